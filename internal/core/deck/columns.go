package deck

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"golang.org/x/text/unicode/norm"
)

// Columns with a meaning of their own; all but the key and the copies are fields as well.
const (
	ColumnKey    = "key"
	ColumnName   = "name"
	ColumnTitle  = "title" // a name, where there is no column of that name
	ColumnCopies = "copies"
	ColumnFront  = "front" // a picture's file, where no layout draws
	ColumnBack   = "back"
)

// What makers who write in other languages, or otherwise, call the columns of names and of copies.
var (
	calledNames = []string{"titel", "nazwa", "tytuł", "nom", "titre", "título", "nome", "titolo", "naam", "navn", "namn", "nimi", "název", "név",
		"название", "имя", "назва", "όνομα", "τίτλος", "الاسم", "اسم", "العنوان", "שם", "नाम", "ชื่อ", "名前", "名称", "タイトル", "名稱", "이름", "제목"}
	calledCopies = []string{"quantity", "qty", "qty.", "count", "amount", "x", "×", "times", "anzahl", "stück", "kopien", "ilość", "sztuk", "kopie", "exemplaires", "quantité", "copias", "cantidad", "cópias", "quantidade",
		"copie", "quantità", "aantal", "antal", "määrä", "počet", "darab", "количество", "кількість", "αντίτυπα", "ποσότητα", "العدد", "عدد", "כמות", "संख्या", "จำนวน", "枚数", "数量", "數量", "매수", "수량"}
)

// calledMaybeCopies are words for the number of a card, and for how many there are.
var calledMaybeCopies = []string{"number", "no", "no.", "nr", "nr.", "num", "num.", "#", "№", "nummer", "numer", "numéro", "número", "numero", "номер", "番号"}

// Column is the index of a column, -1 if there is none of that name.
func (r *Rows) Column(name string) int {
	return slices.IndexFunc(r.Header, func(h string) bool { return strings.EqualFold(h, name) })
}

// called is the index of the first column that is called one of these.
func (r *Rows) called(names []string) int {
	return slices.IndexFunc(r.Header, func(h string) bool {
		return slices.ContainsFunc(names, func(name string) bool { return strings.EqualFold(norm.NFC.String(h), name) })
	})
}

// Names is the index of the column with the cards' names, -1 if there is none.
func (r *Rows) Names() int {
	for _, own := range []string{ColumnName, ColumnTitle} {
		if column := r.Column(own); column >= 0 {
			return column
		}
	}
	return r.called(calledNames)
}

// Copies is the index of the column that says how often each card is there, -1 if there is none. One that is called so in
// another word than ours is one only if every row says a number there, and one whose word may mean the number of the card
// only if numbers come again there.
func (r *Rows) Copies() int {
	if column := r.Column(ColumnCopies); column >= 0 {
		return column
	}
	if column := r.called(calledCopies); column >= 0 {
		if r.counts(column) {
			return column
		}
		return -1
	}
	if column := r.called(calledMaybeCopies); column >= 0 && r.counts(column) && r.repeats(column) {
		return column
	}
	return -1
}

// counts is whether every row says in a column how often a card may be there.
func (r *Rows) counts(column int) bool {
	return !slices.ContainsFunc(r.Cells, func(cells []string) bool { _, is := copiesOf(cells[column]); return !is })
}

// repeats is whether two rows say the same in a column.
func (r *Rows) repeats(column int) bool {
	seen := map[string]bool{}
	for _, cells := range r.Cells {
		said := strings.TrimSpace(cells[column])
		if seen[said] {
			return true
		}
		seen[said] = true
	}
	return false
}

// copiesOf is how many copies a cell says: one if it says nothing.
func copiesOf(cell string) (n int, is bool) {
	said := strings.TrimSpace(cell)
	if said == "" {
		return 1, true
	}
	if whole, rest, parted := strings.Cut(said, "."); parted && strings.Trim(rest, "0") == "" {
		said = whole // 2.00, as spreadsheets write it
	}
	n, err := strconv.Atoi(said)
	return n, err == nil && n >= 0 && n <= 1000
}

// noteColumns notes which columns are taken for names and copies though they are not called so in our words.
func (r *Rows) noteColumns() {
	var taken []string
	if column := r.Names(); column >= 0 && r.Column(ColumnName) < 0 && r.Column(ColumnTitle) < 0 {
		taken = append(taken, fmt.Sprintf("%q has the cards' names", r.Header[column]))
	}
	if column := r.Copies(); column >= 0 && r.Column(ColumnCopies) < 0 {
		taken = append(taken, fmt.Sprintf("%q says how often each is there", r.Header[column]))
	}
	if len(taken) > 0 {
		r.Notes = append(r.Notes, "the column "+strings.Join(taken, ", the column "))
	}
	if r.Copies() >= 0 || len(r.Cells) == 0 {
		return
	}
	if column := r.called(calledMaybeCopies); column >= 0 && r.counts(column) {
		r.Notes = append(r.Notes, fmt.Sprintf("the column %q has another number in each row, so it numbers the cards; if it says how often each is there, call it %q", r.Header[column], ColumnCopies))
		return
	}
	var small []string
	for column, name := range r.Header {
		if r.smallNumbers(column) {
			small = append(small, strconv.Quote(name))
		}
	}
	if len(small) > 0 {
		r.Notes = append(r.Notes, fmt.Sprintf("each card is there once; if %s says how often it is, call that column %q", strings.Join(small, " or "), ColumnCopies))
	}
}

// mostSmall is up to how many a number looks like one of copies.
const mostSmall = 12

// smallNumbers is whether every row says a small whole number in a column.
func (r *Rows) smallNumbers(column int) bool {
	return !slices.ContainsFunc(r.Cells, func(cells []string) bool {
		n, err := strconv.Atoi(strings.TrimSpace(cells[column]))
		return err != nil || n < 1 || n > mostSmall
	})
}
