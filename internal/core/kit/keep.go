package kit

import (
	"bytes"
	"fmt"
	"maps"
	"math"
	"reflect"
	"regexp"
	"slices"
	"strings"

	"go.yaml.in/yaml/v4"

	"damselfly.example/damselfly/internal/core/table"
)

// WithTable gives the files of a kit that change when a table as it was arranged
// is kept in it: kit.yaml, of which only the part "table" is written anew, and
// pictures that the kit did not have. Edition is what the kit made; picture gives the
// bytes of one by its address.
func (k *Kit) WithTable(laid *table.Table, made Edition, picture func(address string) ([]byte, error)) (Files, error) {
	w := &keeper{kit: k, laid: laid, made: made, picture: picture, files: Files{}}
	kept := Table{
		Size: []float64{tenth(laid.Settings.Wide), tenth(laid.Settings.High)}, Turn: laid.Settings.Turn,
		Arrange: laid.Settings.Arrange, Setup: laid.Settings.Setup,
	}
	switch laid.Settings.Mat {
	case table.Picture{}:
	case made.Mat:
		kept.Mat = k.Table.Mat
	default:
		kept.Mat = w.file(laid.Settings.Mat)
	}
	kept.Zones = w.zones()
	kept.Pieces = w.pieces()
	if w.err != nil {
		return nil, w.err
	}
	text, err := k.replaceTable(kept)
	if err != nil {
		return nil, err
	}
	w.files[manifestFile] = text
	return w.files, nil
}

// keeper turns what lies on a table back into what a kit says.
type keeper struct {
	kit     *Kit
	laid    *table.Table
	made    Edition
	picture func(string) ([]byte, error)
	files   Files
	err     error
}

// offEdge is from how many millimetres on a zone lies elsewhere than along the edge.
const offEdge = 0.5

func tenth(n float64) float64 { return math.Round(n*10) / 10 }

// zones are those of the kit in their order, and then new ones by their ids.
func (w *keeper) zones() []Zone {
	var zones []Zone
	used, keys := map[table.PlaceID]bool{}, map[string]bool{}
	add := func(p *table.Place, each bool) {
		z := w.zone(p)
		z.Key = freeKey(string(p.ID), keys)
		if each {
			z.Each, z.Seat, z.At = "seat", 0, nil
		}
		keys[z.Key] = true
		zones = append(zones, z)
	}
	for _, former := range w.made.Table.Zones {
		if former.Each == "" {
			if p := w.laid.Places[table.PlaceID(former.Key)]; p != nil {
				add(p, false)
				used[p.ID] = true
			}
			continue
		}
		group := w.group(former.Key)
		if group == nil {
			continue // they are not alike any more, and are kept one by one
		}
		add(group[0], true)
		z := &zones[len(zones)-1]
		z.Key = former.Key
		keys[z.Key] = true
		if w.movedFromEdge(former.Key, group) {
			for _, p := range group {
				z.AtSeats = append(z.AtSeats, []float64{tenth(p.X), tenth(p.Y)})
			}
		}
		for _, p := range group {
			used[p.ID] = true
		}
	}
	for _, id := range w.laid.PlaceIDs() {
		if !used[id] {
			add(w.laid.Places[id], false)
		}
	}
	return zones
}

// group are the zones that a kit's zone for each seat gave, nil if one of them is
// missing or has become another.
func (w *keeper) group(key string) []*table.Place {
	var group []*table.Place
	for seat := 1; seat <= len(w.laid.Chairs); seat++ {
		p := w.laid.Places[table.PlaceID(fmt.Sprintf("%s/%d", key, seat))]
		if p == nil || p.Owner != table.Seat(seat) {
			return nil
		}
		group = append(group, p)
		one, other := *group[0], *p
		for _, p := range []*table.Place{&one, &other} {
			p.ID, p.Owner, p.X, p.Y = "", 0, 0, 0
		}
		if !reflect.DeepEqual(one, other) {
			return nil
		}
	}
	return group
}

func (w *keeper) movedFromEdge(key string, group []*table.Place) bool {
	seats := len(w.laid.Chairs)
	for i, p := range group {
		x, y := w.made.edge(key, i+1, seats)
		if math.Abs(x-p.X) > offEdge || math.Abs(y-p.Y) > offEdge {
			return true
		}
	}
	return false
}

func (w *keeper) zone(p *table.Place) Zone {
	z := Zone{
		Kind: string(p.Kind), Seat: p.Owner, Sight: string(p.Sight), Arrival: string(p.Arrival.Side), Turn: p.Arrival.Turn, Under: p.Arrival.Bottom,
		Locked: p.Locked, Capacity: p.Capacity, At: []float64{tenth(p.X), tenth(p.Y)}, Turned: p.Turn, Size: []float64{tenth(p.Wide), tenth(p.High)},
	}
	if p.Name != string(p.ID) {
		z.Name = p.Name
	}
	if of, rest := p.ID.Parts(); rest != "" && string(of) == p.Name {
		z.Name = "" // satchel/2 is called satchel
	}
	if p.Sight == table.Open && p.Kind != table.Hand || p.Sight == table.OwnerOnly && p.Kind == table.Hand {
		z.Sight = "" // as it is by itself
	}
	if p.Grid != nil {
		z.Grid = &Grid{Shape: string(p.Grid.Shape), Columns: p.Grid.Columns, Rows: p.Grid.Rows}
	}
	return z
}

func (w *keeper) pieces() []Piece {
	var pieces []Piece
	keys := map[string]bool{}
	order := func(id table.PieceID) int {
		return slices.IndexFunc(w.kit.Table.Pieces, func(p Piece) bool { return p.Key == string(id) })
	}
	ids := slices.Sorted(maps.Keys(w.laid.Pieces))
	slices.SortStableFunc(ids, func(a, b table.PieceID) int {
		if order(a) < 0 || order(b) < 0 {
			return order(b) - order(a) // new ones last
		}
		return order(a) - order(b)
	})
	for _, id := range ids {
		p := w.laid.Pieces[id]
		kept := Piece{
			Key: freeKey(string(id), keys), Kind: string(p.Kind), At: []float64{tenth(p.X), tenth(p.Y)}, Turned: p.Turn, Locked: p.Locked,
			Value: p.Value, Step: p.Step, Least: p.Least, Most: p.Most, Seconds: int(p.Length / 1000),
		}
		if p.Name != kept.Key {
			kept.Name = p.Name
		}
		for _, s := range p.Sectors {
			for range max(s.Weight, 1) {
				kept.Faces = append(kept.Faces, s.Name)
			}
		}
		if p.Kind == table.Token && p.Count > 1 {
			kept.Count = p.Count
		}
		if p.Wide > 0 {
			kept.Size = []float64{tenth(p.Wide), tenth(max(p.High, p.Wide))}
		}
		if p.Kind == table.Cue {
			kept.Steps = p.Text
		} else {
			kept.Text = p.Text
		}
		kept.Files = w.filesOf(p)
		keys[kept.Key] = true
		pieces = append(pieces, kept)
	}
	return pieces
}

// filesOf are the files of a piece's pictures: those of a piece of the kit with the
// same pictures, or new ones.
func (w *keeper) filesOf(p *table.Piece) []string {
	if len(p.Faces) == 0 {
		return nil
	}
	for _, former := range w.kit.Table.Pieces {
		if slices.Equal(w.made.Tokens[former.Key], p.Faces) && len(former.Files) == len(p.Faces) {
			return former.Files
		}
	}
	var files []string
	for _, face := range p.Faces {
		files = append(files, w.file(face))
	}
	return files
}

// file keeps a picture that the kit did not have.
func (w *keeper) file(p table.Picture) string {
	text, err := w.picture(p.Full)
	if err != nil {
		w.err = fmt.Errorf("reading the picture %s: %w", p.Full, err)
		return ""
	}
	kind := ".png"
	if bytes.HasPrefix(text, []byte{0xff, 0xd8}) {
		kind = ".jpg"
	}
	name := "pictures/" + p.Full[:12] + kind
	w.files[name] = text
	return name
}

var noKey = regexp.MustCompile(`[^a-z0-9]+`)

// freeKey makes a key of an id that no other has.
func freeKey(id string, used map[string]bool) string {
	key := strings.Trim(noKey.ReplaceAllString(strings.ToLower(id), "-"), "-")
	key = key[:min(len(key), 36)]
	if key == "" {
		key = "thing"
	}
	free := key
	for n := 2; used[free]; n++ {
		free = fmt.Sprintf("%s-%d", key, n)
	}
	return free
}

var topKey = regexp.MustCompile(`(?m)^[^\s#-]`)

// nameLine is the name of a kit in its kit.yaml.
var nameLine = regexp.MustCompile(`(?m)^name:.*$`)

// Named gives the file of a kit that changes when it has another name: kit.yaml, of which
// only that line is written anew.
func (k *Kit) Named(name string) Files {
	quoted, err := written(name, yaml.DoubleQuotedStyle) // on one line
	if err != nil {
		panic(err) // a text can always be written
	}
	return Files{manifestFile: nameLine.ReplaceAllLiteral(k.text, bytes.TrimSpace([]byte("name: "+quoted)))}
}

// replaceTable writes kit.yaml with another part "table"; the rest stays as it is,
// comments and all.
func (k *Kit) replaceTable(kept Table) ([]byte, error) {
	text := k.text
	from := regexp.MustCompile(`(?m)^table:`).FindIndex(text)
	if from == nil && k.Table.Size != nil {
		return nil, &Mistake{File: manifestFile, Text: `has no part "table" that begins a line, so the table cannot be kept in it`}
	}
	if from == nil { // it was laid by itself
		text = append(bytes.TrimRight(slices.Clone(text), "\n"), "\n\n"...)
		from = []int{len(text), len(text)}
	}
	to := len(text)
	if next := topKey.FindIndex(text[from[1]:]); next != nil {
		to = from[1] + next[0]
	}
	var out bytes.Buffer
	out.Write(text[:from[0]])
	if err := writeTable(&out, kept); err != nil {
		return nil, err
	}
	if to < len(text) {
		out.WriteByte('\n')
	}
	out.Write(text[to:])
	return out.Bytes(), nil
}

// writeTable writes a table as people write it: a zone or piece a line, texts of
// several lines as blocks.
func writeTable(out *bytes.Buffer, kept Table) error {
	head := kept
	head.Zones, head.Pieces = nil, nil
	text, err := written(head, 0)
	if err != nil {
		return err
	}
	out.WriteString("table:\n" + indented(text, "  "))
	list := func(name string, n int, thing func(int) (any, yaml.Style)) error {
		if n > 0 {
			out.WriteString("  " + name + ":\n")
		}
		for i := range n {
			text, err := written(thing(i))
			if err != nil {
				return err
			}
			out.WriteString("    - " + strings.TrimPrefix(indented(text, "      "), "      "))
		}
		return nil
	}
	if err := list("zones", len(kept.Zones), func(i int) (any, yaml.Style) { return kept.Zones[i], yaml.FlowStyle }); err != nil {
		return err
	}
	return list("pieces", len(kept.Pieces), func(i int) (any, yaml.Style) {
		if strings.Contains(kept.Pieces[i].Steps+kept.Pieces[i].Text, "\n") {
			return kept.Pieces[i], 0
		}
		return kept.Pieces[i], yaml.FlowStyle
	})
}

// written is a value as YAML in a style, its lines as long as they are.
func written(v any, style yaml.Style) (string, error) {
	var n yaml.Node
	if err := n.Dump(v); err != nil {
		return "", err
	}
	n.Style |= style
	text, err := yaml.Dump(&n, yaml.WithLineWidth(-1), yaml.WithQuotePreference(yaml.QuoteDouble))
	return string(text), err
}

// indented puts spaces before each line that is not empty.
func indented(text, by string) string {
	lines := strings.Split(strings.TrimRight(text, "\n"), "\n")
	for i, line := range lines {
		if line != "" {
			lines[i] = by + line
		}
	}
	return strings.Join(lines, "\n") + "\n"
}
