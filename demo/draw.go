// Package demo draws and holds Marsh Post, the made-up prototype that the
// demo, the examples, the tests and the screenshots use. Postal couriers carry
// letters by boat through a tidal marsh. The pictures are drawn by Pictures, which
// gives the same bytes every time.
package demo

import (
	"bytes"
	"embed"
	"image"
	"image/png"
	"io/fs"
	"testing/fstest"
)

//go:embed marshpost weather.yaml
var files embed.FS

// Kit is the folder of the kit.
func Kit() fs.FS {
	folder, err := fs.Sub(files, "marshpost")
	if err != nil {
		panic(err) // the folder is embedded above
	}
	return folder
}

// Weather is a smaller kit, of the weather deck alone, for what needs few cards.
func Weather() fs.FS {
	small := fstest.MapFS{}
	for name, from := range map[string]string{"kit.yaml": "weather.yaml", "weather.png": "marshpost/weather.png"} {
		text, err := files.ReadFile(from)
		if err != nil {
			panic(err)
		}
		small[name] = &fstest.MapFile{Data: text}
	}
	return small
}

// Pictures draws all pictures of the kit, by their file.
func Pictures() map[string]image.Image {
	all := map[string]image.Image{
		"weather.png": DrawWeather(), "couriers-rested.png": drawCouriers(true), "couriers-tired.png": drawCouriers(false),
		"tiles.png": drawTiles(), "stamps-permits.png": drawStampsAndPermits(), "mat.png": drawMat(),
		"boat-red.png": drawBoat(brick), "boat-blue.png": drawBoat(harbour), "letter-back.png": drawLetterBack(), "errand-back.png": drawErrandBack(),
		"tile-back.png": drawPlainBack(tileWide, tileHigh, harbour, "boat"), "stamp-back.png": drawPlainBack(stampSide, stampSide, reed, "reeds"),
		"permit-back.png": drawPlainBack(stampSide, stampSide, brick, "lantern"),
	}
	for name, motif := range motifs() {
		all["art/"+name+".png"] = drawArt(motif)
	}
	for name, draw := range icons {
		b := newBrush(48, 48)
		draw(b)
		all["icons/"+name+".png"] = b.on
	}
	for i, e := range errands {
		all["errands/"+e.file()+".png"] = drawErrand(i, e)
	}
	return all
}

// PNG encodes a picture.
func PNG(picture image.Image) []byte {
	var out bytes.Buffer
	if err := (&png.Encoder{CompressionLevel: png.BestCompression}).Encode(&out, picture); err != nil {
		panic(err) // a buffer does not fail
	}
	return out.Bytes()
}
