package deck

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"golang.org/x/text/unicode/norm"
)

// mostAbove is how many rows may stand above the one that names the columns.
const mostAbove = 20

// headerRow finds the row that names the columns: the first, but for titles above the table, which are rows
// with one cell that says something where the table has several columns.
func headerRow(all [][]string) int {
	for i, row := range all[:min(len(all), mostAbove)] {
		if said(row) > 1 {
			return i
		}
	}
	for i, row := range all[:min(len(all), mostAbove)] { // a table of one column
		if said(row) > 0 {
			return i
		}
	}
	return 0
}

// said is how many cells of a row say something.
func said(row []string) (n int) {
	for _, cell := range row {
		if strings.TrimSpace(cell) != "" {
			n++
		}
	}
	return n
}

// hasNoHeader is whether the first row of a table is a card already: none of its cells is a word for a column, and it says
// a number where most others say one, or what another row says in the same column.
func hasNoHeader(all [][]string) bool {
	if len(all) < 3 {
		return false
	}
	first := all[0]
	for _, cell := range first {
		cell = norm.NFC.String(strings.TrimSpace(cell))
		for _, words := range [][]string{ownColumns, calledNames, calledCopies, calledMaybeCopies} {
			if slices.ContainsFunc(words, func(word string) bool { return strings.EqualFold(word, cell) }) {
				return false
			}
		}
	}
	for c, cell := range first {
		numbers, filled, alike := 0, 0, 0
		for _, row := range all[1:] {
			if c >= len(row) || strings.TrimSpace(row[c]) == "" {
				continue
			}
			filled++
			if isNumber(row[c]) {
				numbers++
			}
			if strings.TrimSpace(row[c]) == strings.TrimSpace(cell) {
				alike++
			}
		}
		if isNumber(cell) && numbers*5 >= filled*4 && filled > 0 || alike > 0 && strings.TrimSpace(cell) != "" {
			return true
		}
	}
	return false
}

func isNumber(cell string) bool {
	_, err := strconv.ParseFloat(strings.TrimSpace(cell), 64)
	return err == nil
}

// ownColumns are those with a meaning here.
var ownColumns = []string{ColumnKey, ColumnName, ColumnTitle, ColumnCopies, ColumnFront, ColumnBack}

// columnsWithoutNames names columns that have no names: the first with words is that of the cards' names.
func columnsWithoutNames(all [][]string) []string {
	wide := 0
	for _, row := range all {
		for c, cell := range row {
			if strings.TrimSpace(cell) != "" {
				wide = max(wide, c+1)
			}
		}
	}
	header, named := make([]string, wide), false
	for c := range header {
		header[c] = fmt.Sprintf("column %d", c+1)
		words := func(row []string) bool { return c < len(row) && strings.TrimSpace(row[c]) != "" && !isNumber(row[c]) }
		if !named && !slices.ContainsFunc(all, func(row []string) bool { return said(row) > 0 && !words(row) }) {
			header[c], named = ColumnName, true
		}
	}
	return header
}
