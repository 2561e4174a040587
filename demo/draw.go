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
)

//go:embed marshpost weather
var files embed.FS

// Kit is the folder of the kit.
func Kit() fs.FS { return folder("marshpost") }

// Weather is a smaller kit, of the weather deck alone, for what needs few cards.
func Weather() fs.FS { return folder("weather") }

func folder(name string) fs.FS {
	all, err := fs.Sub(files, name)
	if err != nil {
		panic(err) // the folders are embedded above
	}
	return all
}

// Pictures draws all pictures of the kits, by their file in the folder marshpost.
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
