package deck

import (
	"reflect"

	"github.com/go-text/typesetting/font"
	"github.com/go-text/typesetting/font/opentype/tables"
)

// listed has the tables of a font name the glyphs they are about one by one. Where they name them by ranges,
// the shaper (typesetting 0.3.5) forgets the glyphs behind a long range, so that some Arabic letters are not joined.
func listed(f *font.Font) {
	for i := range f.GSUB.Lookups {
		for n, table := range f.GSUB.Lookups[i].Subtables {
			f.GSUB.Lookups[i].Subtables[n] = listedIn(reflect.ValueOf(table)).Interface().(tables.GSUBLookup)
		}
	}
	for i := range f.GPOS.Lookups {
		for n, table := range f.GPOS.Lookups[i].Subtables {
			f.GPOS.Lookups[i].Subtables[n] = listedIn(reflect.ValueOf(table)).Interface().(tables.GPOSLookup)
		}
	}
}

// listedIn is a copy of a table in which that is so.
func listedIn(table reflect.Value) reflect.Value {
	if ranges, is := table.Interface().(tables.Coverage2); is {
		return reflect.ValueOf(glyphsOf(ranges))
	}
	if table.Kind() != reflect.Struct {
		return table
	}
	own := reflect.New(table.Type()).Elem()
	own.Set(table)
	for i := range own.NumField() {
		field := own.Field(i)
		switch {
		case !field.CanSet():
		case field.Kind() == reflect.Interface && !field.IsNil():
			field.Set(listedIn(field.Elem()))
		case field.Type() == reflect.TypeFor[[]tables.Coverage]():
			all := make([]tables.Coverage, field.Len())
			for n, c := range field.Interface().([]tables.Coverage) {
				if all[n] = c; c != nil {
					all[n] = listedIn(reflect.ValueOf(c)).Interface().(tables.Coverage)
				}
			}
			field.Set(reflect.ValueOf(all))
		}
	}
	return own
}

func glyphsOf(ranges tables.Coverage2) tables.Coverage {
	var glyphs []tables.GlyphID
	last := -1
	for _, r := range ranges.Ranges {
		if int(r.StartGlyphID) <= last || r.EndGlyphID < r.StartGlyphID || int(r.StartCoverageIndex) != len(glyphs) {
			return ranges // not in order: it stays as it is
		}
		for g := int(r.StartGlyphID); g <= int(r.EndGlyphID); g++ {
			glyphs = append(glyphs, tables.GlyphID(g))
		}
		last = int(r.EndGlyphID)
	}
	return tables.Coverage1{Glyphs: glyphs}
}
