package steps

import (
	"strings"

	"damselfly.example/damselfly/internal/core/table"
)

// maxValues bounds the values of one comparison.
const maxValues = 500

// maxNesting bounds how deep filters may stand in each other.
const maxNesting = 16

// where = ["where" expression].
func (r *reader) where() *table.Filter {
	if !r.accept("where") {
		return nil
	}
	f := r.anyOf(0)
	return &f
}

// anyOf = allOf {"or" allOf}.
func (r *reader) anyOf(depth int) table.Filter {
	parts := r.chain("or", depth, (*reader).allOf)
	if len(parts) == 1 {
		return parts[0]
	}
	return table.Filter{Or: parts}
}

// allOf = one {"and" one}.
func (r *reader) allOf(depth int) table.Filter {
	parts := r.chain("and", depth, (*reader).one)
	if len(parts) == 1 {
		return parts[0]
	}
	return table.Filter{And: parts}
}

func (r *reader) chain(with string, depth int, part func(*reader, int) table.Filter) []table.Filter {
	parts := []table.Filter{part(r, depth)}
	for r.joins(with) {
		r.take()
		parts = append(parts, part(r, depth))
	}
	return parts
}

// joins reports whether another part of the filter follows. The "and shuffle" of
// gather ends it.
func (r *reader) joins(with string) bool {
	return r.peek().is(with) && !(len(r.words) == 2 && r.words[1].is("shuffle"))
}

// one = "not" one | "(" anyOf ")" | "in" places | field sign value | field ["not"] "in" "(" value {"," value} ")".
func (r *reader) one(depth int) table.Filter {
	if depth > maxNesting {
		r.fail(r.peek(), "the filter is nested too deep")
	}
	switch {
	case r.accept("not"):
		f := r.one(depth + 1)
		return table.Filter{Not: &f}
	case r.accept("("):
		f := r.anyOf(depth + 1)
		r.expect(")")
		return f
	case r.accept("in"):
		return table.Filter{In: r.places()}
	}
	field := r.take()
	if field.text == "" || strings.ContainsAny(field.text, signs) && !field.quoted {
		r.fail(field, "expected a field of the cards, found %s", found(field))
	}
	f := table.Filter{Field: field.text}
	if r.acceptAll("not", "in") {
		f = r.in(f)
		return table.Filter{Not: &f}
	}
	if r.accept("in") {
		return r.in(f)
	}
	sign := r.take()
	if f.Is = comparison(sign); f.Is == "" {
		r.fail(sign, "expected =, ≠, <, ≤, >, ≥ or in, found %s", found(sign))
	}
	f.Than = []string{r.value()}
	return f
}

// comparison is what a sign means; empty: nothing.
func comparison(sign word) string {
	switch {
	case sign.quoted:
		return ""
	case sign.text == "!=":
		return "≠"
	case sign.text == "<=":
		return "≤"
	case sign.text == ">=":
		return "≥"
	case strings.ContainsAny(sign.text, "=≠<≤>≥"):
		return sign.text
	}
	return ""
}

// value is what a field is compared with.
func (r *reader) value() string {
	w := r.take()
	if w.text == "" && !w.quoted {
		r.fail(w, "expected a value, found %s", found(w))
	}
	return w.text
}

// in = "(" value {"," value} ")". The "in" is taken already.
func (r *reader) in(f table.Filter) table.Filter {
	f.Is = "in"
	r.expect("(")
	for {
		w := r.peek()
		if f.Than = append(f.Than, r.value()); len(f.Than) > maxValues {
			r.fail(w, "a search compares with up to %d values", maxValues)
		}
		if !r.accept(",") {
			r.expect(")")
			return f
		}
	}
}

// where writes a filter, if there is one.
func (p *printer) where(f *table.Filter) string {
	if f == nil {
		return ""
	}
	return " where " + p.filter(*f)
}

func (p *printer) filter(f table.Filter) string {
	switch {
	case f.Not != nil:
		return "not (" + p.filter(*f.Not) + ")"
	case f.And != nil:
		return p.chain(f.And, " and ")
	case f.Or != nil:
		return p.chain(f.Or, " or ")
	case f.In != nil:
		places := make([]string, len(f.In))
		for i, id := range f.In {
			places[i] = p.place(id)
		}
		return "in (" + strings.Join(places, ", ") + ")"
	}
	values := make([]string, len(f.Than))
	for i, value := range f.Than {
		values[i] = `"` + value + `"`
	}
	switch {
	case f.Is == "in":
		return p.quote(f.Field) + " in (" + strings.Join(values, ", ") + ")"
	case f.Is == "" || len(values) != 1:
		return p.wordless()
	}
	return p.quote(f.Field) + " " + f.Is + " " + values[0]
}

func (p *printer) chain(parts []table.Filter, with string) string {
	texts := make([]string, len(parts))
	for i, part := range parts {
		texts[i] = "(" + p.filter(part) + ")"
	}
	return strings.Join(texts, with)
}
