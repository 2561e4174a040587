package sheet

import (
	"strconv"
	"strings"
)

// Spans reads numbers from 1 and spans of them, as they are written: 1-12, 15. Where a part is none, it is wrong.
func Spans(text string) (spans [][2]int, wrong string) {
	for part := range strings.SplitSeq(text, ",") {
		from, to, isSpan := strings.Cut(strings.TrimSpace(part), "-")
		first, err := strconv.Atoi(strings.TrimSpace(from))
		last := first
		if err == nil && isSpan {
			last, err = strconv.Atoi(strings.TrimSpace(to))
		}
		if err != nil || first < 1 || last < first {
			return nil, strings.TrimSpace(part)
		}
		spans = append(spans, [2]int{first, last})
	}
	return spans, ""
}
