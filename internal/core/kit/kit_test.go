package kit_test

import (
	"archive/zip"
	"bytes"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"hash/crc32"
	"image"
	"image/png"
	"io/fs"
	"math/rand/v2"
	"os"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
)

// marshPost is the demo's folder as files that a test may change.
func marshPost(t testing.TB) fstest.MapFS {
	files := fstest.MapFS{}
	for _, name := range []string{"kit.yaml", "weather.png"} {
		text, err := fs.ReadFile(demo.Weather(), name)
		require.NoError(t, err)
		files[name] = &fstest.MapFile{Data: text}
	}
	return files
}

// edited is Marsh Post with one text of kit.yaml replaced.
func edited(t testing.TB, old, new string) fstest.MapFS {
	files := marshPost(t)
	text := string(files["kit.yaml"].Data)
	require.Contains(t, text, old)
	files["kit.yaml"].Data = []byte(strings.Replace(text, old, new, 1))
	return files
}

func make(folder fs.FS) (*kit.Result, error) {
	k, err := kit.Read(folder)
	if err != nil {
		return nil, err
	}
	return k.Make(kit.Making{})
}

func TestTheDemoKitIsMadeWithoutAWarning(t *testing.T) {
	result, err := make(marshPost(t))
	require.NoError(t, err)
	assert.Empty(t, result.Warnings)
	d := result.Edition.Decks[0]
	assert.Equal(t, 22, d.Cards())
	assert.Len(t, d.Designs, 12)
	assert.NotEqual(t, d.Veil, d.Designs["calm"].Back)
	full, err := png.Decode(bytes.NewReader(result.Pictures[d.Designs["calm"].Front.Full]))
	require.NoError(t, err)
	assert.Equal(t, 352, full.Bounds().Dx())
}

func TestATableIsLaidForAnyNumberOfSeats(t *testing.T) {
	result, err := make(marshPost(t))
	require.NoError(t, err)
	for seats := 1; seats <= table.MaxSeats; seats++ {
		tab := &table.Table{}
		tab.Fold(result.Edition.Lay(seats))
		assert.Len(t, tab.Chairs, seats)
		assert.Len(t, tab.Places, 4+2*seats)
		assert.Len(t, tab.Pieces, 7)
		assert.Len(t, tab.Places["weather"].Cards, 22)
		assert.Equal(t, table.OwnerOnly, tab.HandOf(table.Seat(seats)).Sight)
	}
}

// A plain card is a card: what a deck names is never empty, and a plain cell that nobody names is left out with a word.
func TestAPlainCardIsACard(t *testing.T) {
	whole := "kit: 1\nname: W\nseats: 2\nsheets: {weather: {file: weather.png, columns: 4, rows: 4}}\ndecks: {weather: {sheet: weather%s}}\n"
	for of, want := range map[string]struct {
		cards int
		note  string
	}{
		"":                                {14, "weather.png: plain cells that were left out: 13 16; if they are cards, name them with cells or designs"},
		", cells: 1-16":                   {16, "weather.png: plain cells that are cards, because a deck names them: 13 16"},
		", cells: 9-13":                   {5, "weather.png: plain cells that are cards, because a deck names them: 13"},
		", designs: [{key: a, cell: 13}]": {1, "weather.png: plain cells that are cards, because a deck names them: 13"},
	} {
		files := marshPost(t)
		files["kit.yaml"].Data = fmt.Appendf(nil, whole, of)
		result, err := make(files)
		require.NoError(t, err, of)
		assert.Equal(t, want.cards, result.Edition.Decks[0].Cards(), of)
		assert.Contains(t, result.Notes, want.note, of)
		for _, warning := range result.Warnings {
			assert.NotContains(t, warning, "empty", of)
		}
	}
}

// Designs that are spelt out make the same deck, whatever part of its sheets it takes, and however plain some cards are.
func TestDesignsSpeltOutMakeTheSameDeck(t *testing.T) {
	whole := "kit: 1\nname: W\nseats: 2\nsheets: {weather: {file: weather.png, columns: 4, rows: 4}, again: {file: weather.png, columns: 2, rows: 4}}\ndecks: {weather: %s}\n"
	for of, cards := range map[string]int{
		"{sheet: weather}":                                      14,
		"{sheet: weather, cells: 1-16}":                         16,
		"{sheet: weather, cells: 9-13, back: {cell: 10}}":       4,
		"{sheet: weather, back: {cell: 15}, veil: {cell: 14}}":  12,
		"{from: [{sheet: weather, cells: 13}, {sheet: again}]}": 9,
		"{sheet: weather, cells: 1-3, back: {each: again}}":     3,
	} {
		files := marshPost(t)
		files["kit.yaml"].Data = fmt.Appendf(nil, whole, of)
		taken, err := make(files)
		require.NoError(t, err, of)
		require.Equal(t, cards, taken.Edition.Decks[0].Cards(), of)
		spelt := taken.SpeltOut["weather"]
		text, err := json.Marshal(spelt) // which is YAML
		require.NoError(t, err)
		files["kit.yaml"].Data = fmt.Appendf(nil, whole, strings.TrimSuffix(of, "}")+", designs: "+string(text)+"}")
		named, err := make(files)
		require.NoError(t, err, "%s", files["kit.yaml"].Data)
		assert.Equal(t, taken.Edition.Decks[0].Copies, named.Edition.Decks[0].Copies, of)
		assert.Equal(t, taken.Edition.Decks[0].Designs, named.Edition.Decks[0].Designs, of)
	}
}

func TestMistakesNameTheirPlace(t *testing.T) {
	for name, c := range map[string]struct{ old, new, want string }{
		"yaml":            {"seats: 5", "seats: [5", "kit.yaml, line 7, column 7: the brackets that begin in line 5 are not closed"},
		"unknown field":   {"seats: 5", "chairs: 5", `kit.yaml, line 5, column 1: there is no field "chairs" here; there is`},
		"wrong type":      {"seats: 5", "seats: many", "kit.yaml, line 5, column 8: \"many\" is to be a whole number"},
		"version":         {"kit: 1", "kit: 2", `kit.yaml, line 2, column 6: this kit is of format 2, and this service reads format 1; a newer Damselfly reads it`},
		"later format":    {"kit: 1\n", "kit: 3\nlights: dim\n", `kit.yaml, line 2, column 6: this kit is of format 3, and this service reads format 1; a newer Damselfly reads it`},
		"seats":           {"seats: 5", "seats: 50", "kit.yaml, line 5, column 8: seats must be from 1 to 12, not 50"},
		"beyond the grid": {"cell: 12,", "cell: 17,", "kit.yaml, line 31, column 9: cell 17 is beyond the grid of weather.png, which has 4 columns × 4 rows"},
		"key twice":       {"key: ice", "key: calm", `kit.yaml, line 31, column 25: design 12 has the key "calm", which design 1 has already`},
		"no such sheet":   {"sheet: weather", "sheet: wether", `kit.yaml, line 12, column 12: there is no sheet "wether"; there is "weather"`},
		"lie":             {"lie: landscape", "lie: sideways", `kit.yaml, line 13, column 10: "sideways" is not one of "upright", "landscape"`},
		"missing file":    {"weather.png", "whether.png", "whether.png: this file is not in the kit"},
		"climbing file":   {"weather.png", "../weather.png", `kit.yaml, line 8, column 19: "../weather.png" is no file inside the kit's folder`},
		"hand for nobody": {"kind: hand, each: seat", "kind: hand", `kit.yaml, line 45, column 7: zone "satchel" belongs to a seat, so it needs "each: seat"`},
		"alias":           {"seats: 5", "seats: &five 5", "kit.yaml, line 5, column 8: anchors and aliases (& and *) are not taken here; write the value out"},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := make(edited(t, c.old, c.new))
			require.Error(t, err)
			assert.Contains(t, err.Error(), c.want)
		})
	}
}

func TestAnEmptyManifestIsAMistakeAndNoPanic(t *testing.T) {
	for _, text := range []string{"", "\n", "---\n", "# only a comment\n"} {
		_, err := kit.Read(fstest.MapFS{"kit.yaml": {Data: []byte(text)}})
		require.Error(t, err, "%q", text)
		assert.Contains(t, err.Error(), "kit.yaml")
	}
}

func TestADeepNestIsRefused(t *testing.T) {
	for unit, where := range map[string]string{"[": "line 3, column 41", "{a: ": "line 3, column 161", "- ": "line 3, column 81"} {
		_, err := kit.Read(fstest.MapFS{"kit.yaml": {Data: []byte("kit: 1\nname:\n" + strings.Repeat(unit, 200_000))}})
		require.Error(t, err)
		assert.Contains(t, err.Error(), where+": lists and blocks stand more than 40 deep in each other here")
	}
}

func TestAWrongColumnCountIsSeenBeforeAnythingIsMade(t *testing.T) {
	result, err := make(edited(t, "columns: 4, rows: 4", "columns: 5, rows: 4"))
	require.NoError(t, err)
	all := strings.Join(result.Warnings, "\n")
	assert.Contains(t, all, "weather.png: the width does not divide evenly: 1408 pixels over 5 columns leave 3")
	assert.Contains(t, all, "weather.png: cell 1 (column 1, row 1): the cut to cell 2 runs through content")
	assert.Contains(t, all, "weather.png: cells with content that no deck uses: 13 17 18 19")
}

func TestLeftOutDesignsAreTheCellsWithContent(t *testing.T) {
	files := marshPost(t)
	text, _, _ := strings.Cut(string(files["kit.yaml"].Data), "    designs:")
	_, rest, _ := strings.Cut(string(files["kit.yaml"].Data), "\ntable:")
	files["kit.yaml"].Data = []byte(text + "\ntable:" + rest)
	result, err := make(files)
	require.NoError(t, err)
	assert.Equal(t, 12, result.Edition.Decks[0].Cards(), "empty cells, back and veil are no cards")
}

// zipped packs files; names are taken as they are.
func zipped(t testing.TB, files map[string][]byte) []byte {
	var out bytes.Buffer
	w := zip.NewWriter(&out)
	for name, text := range files {
		f, err := w.Create(name)
		require.NoError(t, err)
		_, err = f.Write(text)
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	return out.Bytes()
}

func TestAZipIsAKitToo(t *testing.T) {
	files := marshPost(t)
	for _, prefix := range []string{"", "marsh-post/"} {
		folder, err := kit.OpenZip(zipped(t, map[string][]byte{
			prefix + "kit.yaml": files["kit.yaml"].Data, prefix + "weather.png": files["weather.png"].Data,
		}))
		require.NoError(t, err)
		_, err = make(folder)
		require.NoError(t, err)
	}
}

func TestHostileZipsAreRefused(t *testing.T) {
	files := marshPost(t)
	many := map[string][]byte{"kit.yaml": nil}
	for i := range kit.MaxEntries {
		many[strings.Repeat("a", i%50+1)+string(rune('a'+i%26))+strings.Repeat("b", i/50)] = nil
	}
	for name, c := range map[string]struct {
		zip  []byte
		want string
	}{
		"climbing":    {zipped(t, map[string][]byte{"kit.yaml": files["kit.yaml"].Data, "../../etc/passwd": nil}), `the zip: the entry "../../etc/passwd" leads out of the kit's folder`},
		"absolute":    {zipped(t, map[string][]byte{"/kit.yaml": nil}), `the zip: the entry "/kit.yaml" leads out of the kit's folder`},
		"backslash":   {zipped(t, map[string][]byte{`..\kit.yaml`: nil}), `the entry "../kit.yaml" leads out of the kit's folder`},
		"drive":       {zipped(t, map[string][]byte{"kit.yaml": nil, "C:weather.png": nil}), `the entry "C:weather.png" has a name that not every system can have: leave : and \ out of it`},
		"long":        {zipped(t, map[string][]byte{"kit.yaml": nil, strings.Repeat("ü", 201): nil}), "has a name of more than 400 bytes; shorten it or its folders"},
		"no kit.yaml": {zipped(t, map[string][]byte{"weather.png": nil}), "the zip: holds no kit.yaml at its top or in its only folder"},
		"no zip":      {[]byte("hello"), "the zip: cannot be opened: zip: not a valid zip file; zip the kit's folder again"},
		"many":        {zipped(t, many), "entries; it may have 2000"},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := kit.OpenZip(c.zip)
			require.Error(t, err)
			assert.Contains(t, err.Error(), c.want)
		})
	}
}

// Some programs part the folders in a zip with backslashes.
func TestAZipWithBackslashesOpens(t *testing.T) {
	folder, err := kit.OpenZip(zipped(t, map[string][]byte{`marsh-post\kit.yaml`: []byte("kit: 1\n"), `marsh-post\art\weather.png`: nil, `marsh-post\.git\config`: nil}))
	require.NoError(t, err)
	var names []string
	require.NoError(t, kit.Walk(folder, func(name string) error { names = append(names, name); return nil }))
	assert.Equal(t, []string{"art/weather.png", "kit.yaml"}, names)
}

// Whatever makers write wrong, the answer has its line and is in words that help, with all that is
// wrong at once.
func TestBrokenKitsAreAnsweredInWords(t *testing.T) {
	const good = "kit: 1\nname: W\nseats: 2\nsheets: {weather: {file: weather.png, columns: 4, rows: 4}}\ndecks: {weather: {sheet: weather}}\n"
	with := func(more string) string { return good + more }
	for name, c := range map[string]struct {
		text string
		want []string
	}{
		"at without brackets": {with("table: {size: [800, 600], zones: [{key: a, kind: pile, at: 200,200}]}\n"), []string{`line 6, column 60: a list is written in brackets: [200, …]`}},
		"colour unquoted":     {with("layouts: {l: {size: [500, 700], front: [{at: [0,0,500,700], fill: #ff0000}]}}\n"), []string{`line 6`, `put a colour in quotes, as "#ff0000"`}},
		"at in a block":       {with("table:\n  size: [800, 600]\n  zones:\n    - key: a\n      kind: pile\n      at: 200, 200\n"), []string{`line 11, column 11: a list is written in brackets: [200, 200]`}},
		"a setup's own line":  {with("table:\n  size: [800, 600]\n  setup: |\n    # first of all\n    shuffle weather\n      shufle weather\n"), []string{`line 11, column 7: there is no step "shufle"; did you mean "shuffle"?`}},
		"a cue's own line":    {with("table:\n  size: [800, 600]\n  pieces:\n    - {key: c, kind: cue, at: [1, 1], steps: shufle weather}\n"), []string{`line 9, column 46: there is no step "shufle"`}},
		"beside the card":     {with("layouts: {l: {size: [100, 140], front: [{at: [200, 0, 5, 7], fill: red}]}}\n"), []string{`line 6, column 46: the box lies beside the card, which is 100 × 140 pixels`}},
		"capitals":            {strings.Replace(good, "weather.png", "Weather.PNG", 1), []string{`Weather.PNG: this file is not in the kit; there is weather.png, and capitals count`}},
		"misspelt":            {strings.Replace(good, "weather.png", "wether.png", 1), []string{`wether.png: this file is not in the kit; did you mean "weather.png"?`}},
		"name on two lines":   {strings.Replace(good, "name: W", `name: "W\nX"`, 1), []string{`line 2, column 7: a kit needs a name of 1 to 80 letters, on one line`}},
		"about turns text":    {strings.Replace(good, "name: W", "name: W\nabout: \"calm \\u202e gnip\"", 1), []string{`about holds a sign that controls a terminal or turns the direction of text`}},
		"twice":               {with("seats: 3\n"), []string{`line 6, column 1: "seats" stands here a second time; the first is in line 3`}},
		"tab":                 {"kit: 1\nname: W\nseats: 2\nsheets:\n\tweather: {file: weather.png}\n", []string{"line 5, column 1: a tab stands here; indent with spaces"}},
		"half a seat":         {strings.Replace(good, "seats: 2", "seats: 2.5", 1), []string{`line 3, column 8: "2.5" is to be a whole number`}},
		"several fields": {with("flavour: y\ndeks: z\n"), []string{
			`line 6, column 1: there is no field "flavour" here; there is "about"`, `line 7, column 1: there is no field "deks" here; did you mean "decks"?`,
		}},
		"american": {with("layouts: {l: {size: [500, 700], front: [{at: [0,0,5,7], text: a, color: '#123456'}]}}\n"), []string{`line 6, column 41: text needs a height, such as 40 (4 to 1000 pixels)`}},
		"margin":   {strings.Replace(good, "rows: 4", "rows: 4, margin: [1, 2]", 1), []string{"line 4, column 68: this is to be one whole number, or a list of 4"}},
		"word":     {strings.Replace(good, "rows: 4", "rows: four", 1), []string{`line 4, column 57: "four" is to be a whole number`}},
		"many wrong": {"kit: 1\nname: [a]\nseats: x\nsheets: 7\n", []string{
			"line 2, column 7: this is to be text", `line 3, column 8: "x" is to be a whole number`, `line 4, column 9: "7" is to be a block of names and what each is`,
		}},
		"backslashes":     {strings.Replace(good, "file: weather.png", `file: art\weather.png`, 1), []string{`line 4, column 26: folders are parted by /: write "art/weather.png"`}},
		"quote left open": {"kit: 1\nname: 'W\nseats: 2\n", []string{"line 2, column 7: the quote that begins here is not closed"}},
		"yes for true":    {with("table: {zones: [{key: a, kind: pile, at: [1, 1], locked: on}]}\n"), []string{`"on" is to be true or false`}},
		"block for text":  {strings.Replace(good, "name: W", "name: {a: b}", 1), []string{"line 2", "this is to be text"}},
		"text for number": {strings.Replace(good, "columns: 4", "columns: '4'", 1), []string{`"4" is text; write 4, without quotes`}},
		"number for list": {with("layouts: {l: {size: 500, front: [{at: [0,0,5,7], fill: '#fff'}]}}\n"), []string{`a list is written in brackets: [500, …]`}},
		"list for block":  {"kit: 1\nname: W\nseats: 2\nsheets: [weather.png]\n", []string{"line 4", "this list is to be a block of names and what each is"}},
		"no kit":          {"name: W\n", []string{`a kit begins with "kit: 1"`}},
		"nothing":         {"", []string{`the file is empty; it begins with "kit: 1"`}},
	} {
		art, err := fs.ReadFile(demo.Weather(), "weather.png")
		require.NoError(t, err)
		_, err = make(fstest.MapFS{"kit.yaml": {Data: []byte(c.text)}, "weather.png": {Data: art}})
		require.Error(t, err, name)
		for _, want := range c.want {
			assert.Contains(t, err.Error(), want, name)
		}
		for _, go_ := range []string{"unmarshal", "Go struct", "Manifest", "strconv", "cannot start any token"} {
			assert.NotContains(t, err.Error(), go_, name)
		}
	}
	_, err := kit.Read(fstest.MapFS{"kit.yaml": {Data: []byte(strings.Replace(good, "name: W", "name: "+strings.Repeat("Ω", 80), 1))}, "weather.png": {}})
	require.NoError(t, err, "letters are counted, not bytes")
	_, err = kit.Read(fstest.MapFS{"kit.yaml": {Data: []byte("\ufeff" + good)}, "weather.png": {}})
	require.NoError(t, err, "a mark at the start")
}

// Nothing that is broken anywhere in kit.yaml is answered in the words of a library.
func TestNoLibraryAnswersForAKit(t *testing.T) {
	files := marshPost(t)
	text := files["kit.yaml"].Data
	chance := rand.New(rand.NewPCG(1, 2))
	signs := []string{"", "\t", ":", "[", "]", "{", "}", "'", "\"", "- ", "&a ", "*a ", "!x ", "? ", "#", "|", ">", "%", "@", "\n", "  ", "---\n"}
	refused := 0
	for range 1500 {
		at := chance.IntN(len(text))
		broken := slices.Concat(text[:at], []byte(signs[chance.IntN(len(signs))]), text[min(len(text), at+chance.IntN(4)):])
		_, err := kit.Read(fstest.MapFS{"kit.yaml": {Data: broken}, "weather.png": files["weather.png"]})
		if err == nil {
			continue
		}
		refused++
		require.NotRegexp(t, `(?i)scalar|(any|string|end|of) token|mapping key|sequence end|sequence entr|flow map|unmarshal|strconv|map key|anchor name|map value|\(\[\d+:`, err.Error(), string(broken[max(0, at-40):min(len(broken), at+40)]))
	}
	assert.Greater(t, refused, 300)
}

// hugePNG is a PNG whose header says 60,000 × 60,000 pixels.
func hugePNG() []byte {
	header := binary.BigEndian.AppendUint32([]byte("IHDR"), 60_000)
	header = binary.BigEndian.AppendUint32(header, 60_000)
	header = append(header, 8, 6, 0, 0, 0)
	file := append([]byte("\x89PNG\r\n\x1a\n"), 0, 0, 0, 13)
	file = append(file, header...)
	return binary.BigEndian.AppendUint32(file, crc32.ChecksumIEEE(header))
}

func TestDamagedPicturesAreRefused(t *testing.T) {
	for name, c := range map[string]struct {
		change func([]byte) []byte
		want   string
	}{
		"truncated":  {func(b []byte) []byte { return b[:len(b)/2] }, "weather.png: the png picture is cut short or damaged (png: invalid format: not enough pixel data); export it again"},
		"huge":       {func([]byte) []byte { return hugePNG() }, "weather.png: the picture is 60000 × 60000 pixels; a side has at most 32768"},
		"no picture": {func([]byte) []byte { return []byte("hello") }, "weather.png: this is no PNG, JPEG, GIF, WebP, TIFF or BMP picture"},
		"empty":      {func([]byte) []byte { return nil }, "weather.png: the file is empty"},
	} {
		t.Run(name, func(t *testing.T) {
			files := marshPost(t)
			files["weather.png"].Data = c.change(files["weather.png"].Data)
			_, err := make(files)
			require.Error(t, err)
			assert.Contains(t, err.Error(), c.want)
		})
	}
}

func FuzzRead(f *testing.F) {
	files := marshPost(f)
	f.Add(files["kit.yaml"].Data)
	f.Add([]byte("kit: 1\nname: &a [*a]\n"))
	f.Add([]byte(""))
	small := demo.PNG(image.NewNRGBA(image.Rect(0, 0, 64, 64)))
	f.Fuzz(func(t *testing.T, text []byte) {
		k, err := kit.Read(fstest.MapFS{"kit.yaml": {Data: text}, "weather.png": {Data: small}})
		if err == nil && k.Seats > 0 {
			result, err := k.Make(kit.Making{})
			if err != nil {
				return
			}
			tab, designs := &table.Table{}, map[string]map[string]table.Design{}
			tab.Fold(result.Edition.Lay(k.Seats))
			for _, d := range result.Edition.Decks {
				designs[d.Key] = d.Designs
			}
			require.Empty(t, tab.Bookmark(0).Damage(designs), "what a kit lays is no table")
		}
	})
}

func FuzzOpenZip(f *testing.F) {
	f.Add(zipped(f, map[string][]byte{"kit.yaml": []byte("kit: 1")}))
	f.Fuzz(func(t *testing.T, text []byte) {
		if folder, err := kit.OpenZip(text); err == nil {
			_, _ = kit.Read(folder)
		}
	})
}

// The page's examples are the documentation; this keeps them true.
func TestEveryExampleOfTheStepsPageIsUnderstood(t *testing.T) {
	page, err := os.ReadFile("../../../docs/steps.md")
	require.NoError(t, err)
	result, err := make(marshPost(t))
	require.NoError(t, err)
	tab := &table.Table{}
	tab.Fold(result.Edition.Lay(3))
	for i, name := range []string{"Ada", "Bo", "Cleo"} {
		tab.Chairs[i].Name = name
	}
	tab.Marker.First = 2
	examples := 0
	for _, block := range strings.Split(string(page), "```steps\n")[1:] {
		text, _, _ := strings.Cut(block, "```")
		action, err := steps.Read(text, tab, 1)
		require.NoError(t, err)
		all, _ := action.(table.All)
		examples += len(all.Actions)
	}
	assert.Greater(t, examples, 60)
}

// Once a number that is none was an error of the service, and unknown keys took a time
// with the square of their number. A file in Latin-1 was kept with broken names.
func TestOddManifestsAreRefusedWithTheirPlace(t *testing.T) {
	many := &strings.Builder{}
	many.WriteString("kit: 1\nname: x\n")
	for n := range 90_000 {
		fmt.Fprintf(many, "k%d: 1\n", n)
	}
	for text, want := range map[string]string{
		"kit: 1\nname: x\nseats: 2\ntable:\n  size: [.nan, 200]\n":  "kit.yaml, line 5, column 10: this is no number",
		"kit: 1\nname: x\nseats: 2\ntable:\n  size: [-.inf, 200]\n": "kit.yaml, line 5, column 10: this is no number",
		many.String():                       "kit.yaml: and more; mend these first",
		"kit: 1\nname: x\n---\nseats: 2\n":  "kit.yaml, line 3, column 1: a kit.yaml has one part",
		"kit: 1\nname: !!str x\nseats: 2\n": "kit.yaml, line 2, column 7: tags, which begin with !, are not taken here",
		"kit: 1\nname: Gr\xfcn\nseats: 2\n": "kit.yaml, line 2, column 9: a letter here is not written in UTF-8; save the file in your editor as UTF-8",
		"\xff\xfek\x00i\x00t\x00":           "kit.yaml, line 1, column 1: this file is written in UTF-16; save it in your editor as UTF-8",
		"kit: 1\nname: a\x07b\nseats: 2\n":  "kit.yaml, line 2, column 8: a sign that cannot be seen (number 7) stands here",
		"kit: 1\nname: W\nabout: x: y\n":    "kit.yaml, line 3, column 9: two colons stand in this line; put the text after the first in quotes",
		"kit: 1\nname: W\nseats: '2'\n":     "kit.yaml, line 3, column 8: \"2\" is text; write 2, without quotes",
	} {
		_, err := kit.Read(fstest.MapFS{"kit.yaml": {Data: []byte(text)}})
		assert.ErrorContains(t, err, want)
	}
}

// A day is text, as it is in a table file; a name may have a dot, and its mistakes have their place.
func TestValuesAreReadAsTheyAreWritten(t *testing.T) {
	text := "kit: 1\nname: 2020\nseats: 2\nsheets: {a.b: {file: weather.png, columns: 4, rows: 4}}\n" +
		"decks: {weather: {sheet: a.b, designs: [{cell: 1, key: one, fields: {since: 2020-01-31, less: <, cost: 3, half: 0.5, wild: true, yes: no}}]}}\n"
	k, err := kit.Read(fstest.MapFS{"kit.yaml": {Data: []byte(text)}, "weather.png": {Data: []byte("x")}})
	require.NoError(t, err)
	assert.Equal(t, "2020", k.Name)
	assert.Equal(t, map[string]any{"since": "2020-01-31", "less": "<", "cost": 3, "half": 0.5, "wild": true, "yes": "no"}, k.Decks["weather"].Designs[0].Fields)
	_, err = kit.Read(fstest.MapFS{"kit.yaml": {Data: []byte(strings.Replace(text, "file: weather.png", "file: ../weather.png", 1))}})
	assert.ErrorContains(t, err, `kit.yaml, line 4, column 22: "../weather.png" is no file inside the kit's folder`)
}
