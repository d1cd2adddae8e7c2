// Package folder tells what changes in a folder of documents, be it a directory or one that a
// server shows by WebDAV (RFC 4918).
//
// A folder is looked at again and again, and each look compared with what is known of it. A file
// counts once it has been the same in two looks, so that none is taken half written; one that is
// gone counts as removed after a grace, so that one that is being replaced is not.
package folder

import (
	"cmp"
	"context"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// A File is one that stands in a folder.
type File struct {
	Path  string // from the folder on, with slashes
	State string // that is another when the file is
}

// A Folder can be looked at.
type Folder interface {
	Files(ctx context.Context) ([]File, error)
	Open(ctx context.Context, path string) (io.ReadCloser, error)
}

// Most is how many files of a folder are looked at.
const Most = 100_000

// Dir is the directory of that path, with all below it but what is hidden.
type Dir string

// Files lists the directory.
func (d Dir) Files(ctx context.Context) ([]File, error) {
	var out []File
	err := filepath.WalkDir(string(d), func(path string, e fs.DirEntry, err error) error {
		switch {
		case err != nil && path == string(d):
			return fmt.Errorf("the folder %s cannot be read: %w", d, err)
		case err != nil, ctx.Err() != nil:
			return ctx.Err() // what is gone meanwhile, or closed to the service, is not there
		case path != string(d) && strings.HasPrefix(e.Name(), "."):
			if e.IsDir() {
				return filepath.SkipDir
			}
			return nil
		case !e.Type().IsRegular():
			return nil
		case len(out) >= Most:
			return fmt.Errorf("the folder %s holds more than %d files", d, Most)
		}
		info, err := e.Info()
		if err != nil {
			return nil
		}
		inside, err := filepath.Rel(string(d), path)
		if err != nil {
			return err
		}
		out = append(out, File{filepath.ToSlash(inside), fmt.Sprintf("%d %d", info.Size(), info.ModTime().UnixNano())})
		return nil
	})
	return out, err
}

// Open opens a file of the directory, never one outside of it.
func (d Dir) Open(_ context.Context, path string) (io.ReadCloser, error) {
	return os.OpenInRoot(string(d), filepath.FromSlash(path))
}

// A Known is what is known of a file.
type Known struct {
	Seen  string    `json:"seen"`            // its state at the last look
	Taken string    `json:"taken,omitempty"` // its state when it was taken
	Gone  time.Time `json:"gone,omitzero"`   // since when it has not been there
}

// A Change is what is to be done about a file.
type Change struct {
	Path   string
	State  string // that is taken
	Remove bool
}

// Compare compares a look with what is known, which it brings up to date, and returns what is to be
// done, by path. What has been done is noted with Taken; what has not comes again.
func Compare(known map[string]Known, files []File, now time.Time, grace time.Duration) []Change {
	var out []Change
	there := map[string]bool{}
	for _, f := range files {
		there[f.Path] = true
		k := known[f.Path]
		if k.Seen == f.State && k.Taken != f.State {
			out = append(out, Change{Path: f.Path, State: f.State})
		}
		k.Seen, k.Gone = f.State, time.Time{}
		known[f.Path] = k
	}
	for path, k := range known {
		switch {
		case there[path]:
		case k.Taken == "":
			delete(known, path)
		case k.Gone.IsZero():
			k.Gone = now
			known[path] = k
		case now.Sub(k.Gone) >= grace:
			out = append(out, Change{Path: path, Remove: true})
		}
	}
	slices.SortFunc(out, func(a, b Change) int { return cmp.Compare(a.Path, b.Path) })
	return out
}

// Name is what a document of that path is called: those in folders within are told apart by them.
func Name(path string) string { return strings.ReplaceAll(path, "/", " - ") }
