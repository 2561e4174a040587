// Package console embeds the built web console. "make build" builds it; until
// then there is only a note that it was not.
package console

import (
	"embed"
	"io/fs"
)

//go:embed all:dist unbuilt
var dist embed.FS

// Files are the console's files.
func Files() fs.FS {
	folder := "dist"
	if _, err := fs.Stat(dist, "dist/index.html"); err != nil {
		folder = "unbuilt"
	}
	files, err := fs.Sub(dist, folder)
	if err != nil {
		panic(err) // both are embedded above
	}
	return files
}

// Font is a font that ships, by the name of its file.
func Font(name string) ([]byte, error) { return dist.ReadFile("dist/fonts/" + name) }
