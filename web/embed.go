// Package web carries the console, built into the program from web/src.
package web

import (
	"embed"
	"io/fs"
)

//go:embed all:dist
var dist embed.FS

// Files returns the console's files. Before `make web` has been run there are
// none but a placeholder.
func Files() fs.FS {
	files, err := fs.Sub(dist, "dist")
	if err != nil {
		panic(err) // the path is a constant
	}
	return files
}
