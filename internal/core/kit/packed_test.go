package kit_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"path"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sheet"
)

// pack packs pictures of those names, as the command does, and puts the sheets into a kit's folder.
func pack(t *testing.T, into fstest.MapFS, to string, p sheet.Pack, names ...string) {
	var sources []sheet.Source
	for i, name := range names {
		picture := image.NewNRGBA(image.Rect(0, 0, 60, 84))
		for at := range picture.Pix {
			picture.Pix[at] = uint8(at*(i+3)>>3) | 128
		}
		picture.SetNRGBA(30, 40, color.NRGBA{uint8(len(name)), uint8(i), 0, 255})
		sources = append(sources, sheet.Source{File: name, Hash: to + name, Size: picture.Rect.Size(), Open: func() (image.Image, error) { return picture, nil }})
	}
	packed, err := p.Sheets(sources)
	require.NoError(t, err)
	base := strings.TrimSuffix(to, ".png")
	for i, one := range packed {
		file := to
		if i > 0 {
			file = fmt.Sprintf("%s-%d.png", base, i+1)
		} else {
			for n := range packed[1:] {
				one.List.More = append(one.List.More, path.Base(fmt.Sprintf("%s-%d.png", base, n+2)))
			}
		}
		text, err := one.List.Write()
		require.NoError(t, err)
		var out bytes.Buffer
		require.NoError(t, png.Encode(&out, one.Sheet))
		into[file] = &fstest.MapFile{Data: out.Bytes()}
		into[strings.TrimSuffix(file, ".png")+sheet.ListSuffix] = &fstest.MapFile{Data: text}
	}
}

func kitOf(text string) fstest.MapFS {
	return fstest.MapFS{"kit.yaml": {Data: []byte("kit: 1\nname: Packed\nseats: 2\n" + text)}}
}

func TestADeckTakesAllSheetsOfOnePacking(t *testing.T) {
	files := kitOf("sheets:\n  pets: {file: art/pets.png}\ndecks:\n  pets: {sheet: pets}\n")
	pack(t, files, "art/pets.png", sheet.Pack{Longest: 200}, "ape.png", "bee.png", "cat.png", "dog.png", "eel.png", "fox.png", "gnu.png", "hen.png")
	require.Contains(t, files, "art/pets-2.png", "another sheet was begun")
	result, err := make(files)
	require.NoError(t, err)
	assert.Empty(t, result.Warnings)
	assert.Len(t, result.Edition.Decks[0].Designs, 8)
	assert.Equal(t, "Hen", result.Edition.Decks[0].Designs["hen"].Name)

	delete(files, "art/pets-2.png")
	_, err = make(files)
	assert.ErrorContains(t, err, "art/pets-2.png: this file is not in the kit")
}

func TestPackedBacksBelongToTheFrontsOfTheirNames(t *testing.T) {
	text := "sheets:\n  pets: {file: pets.png}\n  backs: {file: backs.png}\ndecks:\n  pets: {sheet: pets, back: {each: backs}}\n"
	files := kitOf(text)
	pack(t, files, "pets.png", sheet.Pack{}, "ape-front.png", "bee-front.png", "cat.png", "dog_front.png")
	pack(t, files, "backs.png", sheet.Pack{Longest: 150}, "dog_back.png", "cat.png", "ape-back.png", "bee-back.png")
	result, err := make(files)
	require.NoError(t, err)
	assert.Empty(t, result.Warnings)
	designs := result.Edition.Decks[0].Designs
	assert.Equal(t, "Ape", designs["ape"].Name)
	backs := map[string]string{}
	for key, d := range designs {
		backs[d.Back.Full] = key
	}
	assert.Len(t, backs, 4, "each its own")

	again := kitOf(text)
	pack(t, again, "pets.png", sheet.Pack{}, "ape-front.png", "bee-front.png", "cat.png", "dog_front.png")
	pack(t, again, "backs.png", sheet.Pack{Longest: 150}, "dog_back.png", "cat.png", "ape-back.png", "bee-back.png")
	delete(again, "backs.sheet.yaml")
	_, err = make(again)
	assert.ErrorContains(t, err, "backs", "without its list, its cells are those of the fronts")
}

func TestWhatHasNoPartnerIsTold(t *testing.T) {
	text := "sheets:\n  pets: {file: pets.png}\n  backs: {file: backs.png}\ndecks:\n  pets: {sheet: pets, back: {each: backs}}\n"
	files := kitOf(text)
	pack(t, files, "pets.png", sheet.Pack{}, "ape-front.png", "bee.png", "cat.png", "dog.png")
	pack(t, files, "backs.png", sheet.Pack{}, "ape-back.png", "bee-back.png", "cat-back.png", "elk-back.png")
	_, err := make(files)
	require.Error(t, err)
	assert.Contains(t, err.Error(), "dog.png has no back: no picture of backs.png is named like it; name it dog.png, or dog-back.png, and pack the backs again")
	assert.Contains(t, err.Error(), "elk-back.png, which is packed in backs.png, is the back of no card")
}

// What a packed sheet was packed from is not part of an edition, unless the kit uses it in another way.
func TestLooseSourcesOfPackedSheetsStayAtHome(t *testing.T) {
	files := kitOf("sheets:\n  pets: {file: pets.png}\npicture: art/ape.png\nlayouts:\n  l: {size: [60, 84], front: [{at: [0, 0, 60, 84], picture: \"icons/{kind}.png\"}]}\n" +
		"decks:\n  pets: {sheet: pets}\n  rows: {rows: rows.csv}\n")
	pack(t, files, "pets.png", sheet.Pack{}, "art/ape.png", "art/bee.png", "art/cat.png", "icons/dog.png")
	for _, name := range []string{"art/ape.png", "art/bee.png", "art/cat.png", "art/elk.png", "icons/dog.png"} {
		files[name] = &fstest.MapFile{Data: []byte(name)}
	}
	files["rows.csv"] = &fstest.MapFile{Data: []byte("name,front\nCat,art/cat.png\n")}
	var names []string
	require.NoError(t, kit.WalkWanted(files, func(name string) error {
		names = append(names, name)
		return nil
	}))
	assert.Equal(t, []string{"art/ape.png", "art/cat.png", "art/elk.png", "icons/dog.png", "kit.yaml", "pets.png", "pets.sheet.yaml", "rows.csv"}, names)
}

func TestAFolderThatIsTooLargeIsRefusedWithWhatIsLargest(t *testing.T) {
	files := kitOf("")
	require.NoError(t, kit.Weigh(files))
	shared := bytes.Repeat([]byte{0}, 90<<20)
	for i := range 9 {
		files[fmt.Sprintf("art-%d.png", i)] = &fstest.MapFile{Data: shared}
	}
	assert.EqualError(t, kit.Weigh(files), "the folder: has 810 MiB; a kit has at most 768. The largest are art-0.png with 90.0 MiB, art-1.png with 90.0 MiB, art-2.png with 90.0 MiB")
	files = kitOf("")
	files["movie.png"] = &fstest.MapFile{Data: bytes.Repeat([]byte{0}, 97<<20)}
	assert.EqualError(t, kit.Weigh(files), "movie.png: has 97 MiB; a file has at most 96")
}

// Other systems write an umlaut as a letter and a mark.
func TestFilesAreFoundHoweverTheirUmlautsAreWritten(t *testing.T) {
	for _, names := range [][2]string{{"M\u00f6we.png", "Mo\u0308we.png"}, {"Mo\u0308we.png", "M\u00f6we.png"}} {
		files := kitOf("sheets: {s: {file: \"" + names[0] + "\", columns: 2, rows: 1}}\ndecks: {d: {sheet: s}}\n")
		pack(t, files, "s.png", sheet.Pack{Columns: 2}, "a.png", "b.png")
		files[names[1]] = files["s.png"]
		result, err := make(files)
		require.NoError(t, err)
		assert.Equal(t, 2, result.Edition.Decks[0].Cards())
	}
}

func TestPicturesOfOtherShapesInOneDeckAreTold(t *testing.T) {
	files := kitOf("decks:\n  d:\n    designs:\n      - {file: a.png, key: a}\n      - {file: b.png, key: b}\n")
	for name, size := range map[string]image.Point{"a.png": {60, 84}, "b.png": {84, 60}} {
		var out bytes.Buffer
		require.NoError(t, png.Encode(&out, image.NewNRGBA(image.Rectangle{Max: size})))
		files[name] = &fstest.MapFile{Data: out.Bytes()}
	}
	result, err := make(files)
	require.NoError(t, err)
	const want = "decks.d: b.png is 84 × 60 pixels and a.png 60 × 84: not one shape, so it is stretched; make them alike, or give it a deck of its own"
	assert.Contains(t, result.Warnings, want)
	k, err := kit.Read(files)
	require.NoError(t, err)
	again, err := k.Make(kit.Making{Known: result.Known})
	require.NoError(t, err)
	assert.Contains(t, again.Warnings, want, "also where the pictures are known")
}

func TestAZipOfTwoKitsIsRefused(t *testing.T) {
	files := kit.Files{"a/kit.yaml": []byte("kit: 1"), "b/kit.yaml": []byte("kit: 1")}
	var zip bytes.Buffer
	require.NoError(t, kit.ZipNamed([]string{"a/kit.yaml", "b/kit.yaml"}, func(name string) ([]byte, error) { return files[name], nil }, &zip))
	_, err := kit.OpenZip(zip.Bytes())
	assert.EqualError(t, err, "the zip: holds two kits, a and b; zip one folder alone")
}
