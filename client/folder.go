package client

import (
	"bytes"
	"context"
	"io"
	"io/fs"

	"damselfly.example/damselfly/internal/core/kit"
)

// PutOptions say how a folder is put on the shelf. The zero value refuses a kit that looks
// wrong, and comes after whichever edition is the newest.
type PutOptions struct {
	Despite  bool                                     // keep it although something looks wrong
	Note     string                                   // what is new in it
	After    int                                      // the edition it was made from
	Progress func(name string, text []byte) io.Reader // reads a file that is sent, if given
}

// PutFolder keeps a kit's folder as its next edition. Of its files only those are sent that
// the service does not have of the maker; an upload that broke off goes on where it was.
func (c *Client) PutFolder(ctx context.Context, folder fs.FS, o PutOptions) (KitPut, error) {
	want := KitFiles{Despite: o.Despite, Note: o.Note, After: o.After}
	names := map[string]string{} // by hash
	var hashes []string
	err := kit.Walk(folder, func(name string) error {
		text, err := kit.ReadFile(folder, name)
		if err != nil {
			return err
		}
		hash := kit.HashOf(text)
		want.Files = append(want.Files, KitFile{Name: name, Hash: hash})
		if _, twice := names[hash]; !twice {
			hashes = append(hashes, hash)
		}
		names[hash] = name
		return nil
	})
	if err != nil {
		return KitPut{}, err
	}
	lacking, err := c.Lacking(ctx, hashes)
	if err != nil {
		return KitPut{}, err
	}
	for _, hash := range lacking {
		text, err := kit.ReadFile(folder, names[hash])
		if err != nil {
			return KitPut{}, err
		}
		reader := io.Reader(bytes.NewReader(text))
		if o.Progress != nil {
			reader = o.Progress(names[hash], text)
		}
		if err := c.PutFile(ctx, reader, int64(len(text))); err != nil {
			return KitPut{}, err
		}
	}
	return c.PutEdition(ctx, want)
}
