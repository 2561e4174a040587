package pixels

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// Margin is the rim around all cells, in pixels: left, top, right and bottom. It is
// written as one number where all are the same.
type Margin [4]int

// Gutter is the space between two cells, in pixels: across and down. It is written as one
// number where both are the same.
type Gutter [2]int

// Around is a margin of the same width on all sides.
func Around(pixels int) Margin { return Margin{pixels, pixels, pixels, pixels} }

// Between is a gutter of the same width across and down.
func Between(pixels int) Gutter { return Gutter{pixels, pixels} }

func (m Margin) String() string { return numbersText(m[:]) }
func (g Gutter) String() string { return numbersText(g[:]) }

// Set reads "12", or "12, 8, 12, 8".
func (m *Margin) Set(text string) error { return numbersIn(text, m[:]) }

// Set reads "6", or "6, 4".
func (g *Gutter) Set(text string) error { return numbersIn(text, g[:]) }

// Type is what a command line calls such numbers.
func (m *Margin) Type() string { return "pixels" }

// Type is what a command line calls such numbers.
func (g *Gutter) Type() string { return "pixels" }

// Written is the number, or the numbers, that stand for it.
func (m Margin) Written() any { return numbersWritten(m[:]) }

// Written is the number, or the numbers, that stand for it.
func (g Gutter) Written() any { return numbersWritten(g[:]) }

func (m Margin) MarshalYAML() (any, error) { return m.Written(), nil }
func (g Gutter) MarshalYAML() (any, error) { return g.Written(), nil }

func (m *Margin) UnmarshalYAML(read func(any) error) error { return numbersRead(read, m[:], marginIs) }
func (g *Gutter) UnmarshalYAML(read func(any) error) error { return numbersRead(read, g[:], gutterIs) }

// UnmarshalJSON takes a number, too.
func (m *Margin) UnmarshalJSON(text []byte) error {
	return numbersRead(func(into any) error { return json.Unmarshal(text, into) }, m[:], marginIs)
}

// UnmarshalJSON takes a number, too.
func (g *Gutter) UnmarshalJSON(text []byte) error {
	return numbersRead(func(into any) error { return json.Unmarshal(text, into) }, g[:], gutterIs)
}

const (
	marginIs = "a margin is a number of pixels, or four: [left, top, right, bottom]"
	gutterIs = "a gutter is a number of pixels, or two: [across, down]"
)

func allSame(numbers []int) bool {
	return !slices.ContainsFunc(numbers, func(n int) bool { return n != numbers[0] })
}

func numbersWritten(numbers []int) any {
	if allSame(numbers) {
		return numbers[0]
	}
	return numbers
}

func numbersText(numbers []int) string {
	if allSame(numbers) {
		return strconv.Itoa(numbers[0])
	}
	texts := make([]string, len(numbers))
	for i, n := range numbers {
		texts[i] = strconv.Itoa(n)
	}
	return strings.Join(texts, ", ")
}

// numbersRead reads one number for all, or a list of as many as there are.
func numbersRead(read func(any) error, into []int, is string) error {
	var one int
	if read(&one) == nil {
		for i := range into {
			into[i] = one
		}
		return nil
	}
	var several []int
	if read(&several) != nil || len(several) != len(into) {
		return fmt.Errorf("%s", is)
	}
	copy(into, several)
	return nil
}

func numbersIn(text string, into []int) error {
	texts := strings.Split(strings.Trim(text, "[] "), ",")
	if len(texts) != 1 && len(texts) != len(into) {
		return fmt.Errorf("give one number, or %d with commas between them", len(into))
	}
	for i := range into {
		n, err := strconv.Atoi(strings.TrimSpace(texts[i%len(texts)]))
		if err != nil {
			return fmt.Errorf("%q is no number of pixels", texts[i%len(texts)])
		}
		into[i] = n
	}
	return nil
}
