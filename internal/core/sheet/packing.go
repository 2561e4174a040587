package sheet

import (
	"bytes"
	"fmt"
	"image/png"
	"path"
	"strings"
)

// InFolder is what lies in a folder, as packing it asks.
type InFolder struct {
	Name   string
	Folder bool
	Packed bool // a list lies beside it: it is a packed sheet
}

// Chosen are the names of those of a folder that are packed, in order, and what is left out with the reason. What is named here lies
// there, too, and is not packed: the sheet to write, and the veil.
func Chosen(lying []InFolder, sheet, veil string) (names, leftOut []string) {
	for _, l := range lying {
		switch {
		case strings.HasPrefix(l.Name, ".") || strings.HasSuffix(l.Name, ListSuffix) || l.Name == veil:
		case l.Folder:
			leftOut = append(leftOut, l.Name+" (a folder)")
		case !IsPicture(l.Name):
			leftOut = append(leftOut, l.Name+" (no picture that can be read)")
		case l.Packed:
			leftOut = append(leftOut, l.Name+" (a packed sheet)")
		case l.Name == sheet:
			leftOut = append(leftOut, l.Name+" (the sheet itself)")
		default:
			names = append(names, l.Name)
		}
	}
	return names, leftOut
}

// Pack is how a packing packs.
func (p Packing) Pack() Pack {
	return Pack{Columns: p.Columns, Rows: p.Rows, Lie: p.Lie, Fit: p.Fit, Longest: p.Longest}
}

// Names are the files of several sheets of one packing: errands.png, errands-2.png.
func Names(first string, n int) []string {
	names := []string{first}
	for i := 2; i <= n; i++ {
		names = append(names, fmt.Sprintf("%s-%d%s", strings.TrimSuffix(first, path.Ext(first)), i, path.Ext(first)))
	}
	return names
}

// ListOf is the file of the list beside a sheet.
func ListOf(sheet string) string { return strings.TrimSuffix(sheet, path.Ext(sheet)) + ListSuffix }

// Noted are lists of sheets that were packed together, with what was asked, and in the first the files of the others.
func (p Packing) Noted(lists []List, names []string) []List {
	noted := make([]List, len(lists))
	for i, l := range lists {
		l.Packing, l.More = p, nil
		if i == 0 {
			for _, other := range names[1:] {
				l.More = append(l.More, path.Base(other))
			}
		}
		noted[i] = l
	}
	return noted
}

// Files are the pictures of lists, as seen from the sheet.
func Files(lists []List) (files []string) {
	for _, l := range lists {
		for _, s := range l.Sources {
			files = append(files, s.File)
		}
	}
	return files
}

// MayWrite refuses to write over a picture that was not packed, or was changed since: list is what stands beside it, if that could
// be read, and hash is that of what is there.
func MayWrite(name string, list *List, hash string) error {
	switch {
	case list == nil:
		return fmt.Errorf("%s is there already and is no packed sheet; choose another name, or move it away", name)
	case list.Hash != "" && list.Hash != hash:
		return fmt.Errorf("%s was changed since it was packed; move it away if it is to be packed anew", name)
	}
	return nil
}

// PNG writes the sheet.
func (p Packed) PNG() ([]byte, error) {
	var out bytes.Buffer
	err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&out, p.Sheet)
	return out.Bytes(), err
}
