// Package kits puts folders of kits on the shelf. It reads kits, and so brings more than the client does.
package kits

import (
	"bytes"
	"context"
	"io"
	"io/fs"
	"runtime"

	"golang.org/x/sync/errgroup"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/core/kit"
)

// Options say how a folder is put on the shelf. The zero value refuses a kit that looks
// wrong, and comes after whichever edition is the newest.
type Options struct {
	Despite  bool                                     // keep it although something looks wrong
	Note     string                                   // what is new in it
	After    int                                      // the edition it was made from
	Progress func(name string, text []byte) io.Reader // reads a file that is sent, if given

	// Check is asked before anything is sent, with how many bytes that will be, if given: whether the kit is kept although
	// something looks wrong, or why it is not put at all.
	Check func(bytes int64) (despite bool, err error)
}

// PutFolder keeps a kit's folder as its next edition. Of its files only those are sent that
// the service does not have of the maker; an upload that broke off goes on where it was. The loose
// pictures that packed sheets were packed from stay where they are.
func PutFolder(ctx context.Context, maker *client.Client, folder fs.FS, o Options) (client.KitPut, error) {
	want := client.KitFiles{Despite: o.Despite, Note: o.Note, After: o.After}
	files, sizes, err := hashed(folder)
	if err != nil {
		return client.KitPut{}, err
	}
	want.Files = files
	names := map[string]string{} // by hash
	var hashes []string
	for _, f := range files {
		if _, twice := names[f.Hash]; !twice {
			hashes = append(hashes, f.Hash)
		}
		names[f.Hash] = f.Name
	}
	lacking, err := maker.Lacking(ctx, hashes)
	if err != nil {
		return client.KitPut{}, err
	}
	if o.Check != nil {
		var bytes int64
		for _, hash := range lacking {
			bytes += sizes[hash]
		}
		if want.Despite, err = o.Check(bytes); err != nil {
			return client.KitPut{}, err
		}
	}
	for _, hash := range lacking {
		text, err := kit.ReadFile(folder, names[hash])
		if err != nil {
			return client.KitPut{}, err
		}
		reader := io.Reader(bytes.NewReader(text))
		if o.Progress != nil {
			reader = o.Progress(names[hash], text)
		}
		if err := maker.PutFile(ctx, reader, int64(len(text))); err != nil {
			return client.KitPut{}, err
		}
	}
	return maker.PutEdition(ctx, want)
}

// hashed lists the files of a folder with their hashes, and the sizes of what has these, on all cores.
func hashed(folder fs.FS) (files []client.KitFile, sizes map[string]int64, err error) {
	err = kit.WalkWanted(folder, func(name string) error {
		files = append(files, client.KitFile{Name: name})
		return nil
	})
	if err != nil {
		return nil, nil, err
	}
	var all errgroup.Group
	all.SetLimit(runtime.NumCPU())
	bytes := make([]int64, len(files))
	for i := range files {
		all.Go(func() error {
			text, err := kit.ReadFile(folder, files[i].Name)
			files[i].Hash, bytes[i] = kit.HashOf(text), int64(len(text))
			return err
		})
	}
	err = all.Wait()
	sizes = map[string]int64{}
	for i, f := range files {
		sizes[f.Hash] = bytes[i]
	}
	return files, sizes, err
}
