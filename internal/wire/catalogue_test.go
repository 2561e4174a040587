package wire

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"

	"damselfly.example/damselfly/internal/core/table"
)

// Each kind of problem is declared once, says what it is, and has a status of its own sort; and there is one for each refusal.
func TestKindsAreDeclared(t *testing.T) {
	seen := map[string]bool{}
	for _, k := range Kinds() {
		assert.False(t, seen[k.Code], "%s twice", k.Code)
		seen[k.Code] = true
		assert.Regexp(t, regexp.MustCompile(`^[a-z]+(-[a-z]+)*$`), k.Code)
		assert.True(t, k.Status >= 400 && k.Status < 600, k.Code)
		assert.NotEmpty(t, k.Title, k.Code)
		assert.Regexp(t, regexp.MustCompile(`^[A-Z].*\.$`), k.Says, k.Code)
		assert.Same(t, k, KindWith(k.Code))
	}
	for _, code := range table.Codes {
		assert.True(t, seen[code], "no kind for refusals with %s", code)
	}
	p := Refused(&table.Refusal{Code: table.NotYours, Text: "It is another's."}, nil, nil)
	assert.Equal(t, []any{403, "Not done", "/docs/problems.html#belongs-to-another-seat"}, []any{p.Status, p.Title, p.Type})
	assert.Equal(t, "No such room", NoSuchRoom.With(Problem{Detail: "x"}).Title)
}
