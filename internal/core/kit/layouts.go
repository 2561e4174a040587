package kit

import (
	"errors"
	"fmt"
	"image"
	"maps"
	"path"
	"slices"
	"strings"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/core/table"
)

// layBases puts layouts that are based on others on them.
func (k *Kit) layBases() error {
	var all []error
	whole := map[string]deck.Layout{}
	var lay func(name string, under []string) deck.Layout
	lay = func(name string, under []string) deck.Layout {
		if done, is := whole[name]; is {
			return done
		}
		l := k.Layouts[name]
		if base := l.BasedOn; base != "" {
			path := "$.layouts." + name + ".based-on"
			_, known := k.Layouts[base]
			switch {
			case !known:
				names := slices.Sorted(maps.Keys(k.Layouts))
				all = append(all, k.mistake(path, "there is no layout %q; there is %s%s", base, list(names), table.DidYouMean(base, names)))
			case base == name || slices.Contains(under, base):
				all = append(all, k.mistake(path, "the layout %q is based on itself, by way of %q", name, base))
			default:
				l = l.On(lay(base, append(under, name)))
			}
		}
		whole[name] = l
		return l
	}
	for _, name := range slices.Sorted(maps.Keys(k.Layouts)) {
		lay(name, nil)
	}
	k.Layouts = whole
	return errors.Join(all...)
}

// layoutOf is the name of the layout that draws a card: the deck's, or the one that the row names where
// the deck says {field}.
func (k *Kit) layoutOf(d Deck, c deck.Card) (string, error) {
	if !strings.Contains(d.Layout, "{") {
		return d.Layout, nil
	}
	says := c.Says()
	said := strings.TrimSpace(deck.FillIn(d.Layout, func(field string) string { return says[field] }))
	for _, name := range []string{said, strings.ToLower(said), deck.KeyFrom(said, "")} {
		if _, known := k.Layouts[name]; known && name != "" {
			return name, nil
		}
	}
	names := slices.Sorted(maps.Keys(k.Layouts))
	return "", fmt.Errorf("%s gives the layout %q, which there is not; there is %s", d.Layout, said, list(names))
}

// firstLayout is the layout that draws the first card of a deck, empty if none does.
func (k *Kit) firstLayout(d Deck) string {
	if !strings.Contains(d.Layout, "{") {
		return d.Layout
	}
	rows, err := k.TableFile(d.Rows)
	if err != nil {
		return ""
	}
	cards, _ := rows.Cards()
	for _, c := range cards {
		if name, err := k.layoutOf(d, c); err == nil {
			return name
		}
	}
	return ""
}

// readArt reads a picture of a layout, which may be an icon as SVG.
func readArt(file string, text []byte) (image.Image, error) {
	if strings.EqualFold(path.Ext(file), ".svg") {
		return deck.ReadSVG(text)
	}
	return sheet.Read(text)
}
