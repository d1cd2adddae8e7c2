package folder

import (
	"context"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"golang.org/x/net/webdav"
)

func write(t *testing.T, dir, path, data string) {
	t.Helper()
	path = filepath.Join(dir, path)
	if err := os.MkdirAll(filepath.Dir(path), 0o755); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(path, []byte(data), 0o644); err != nil {
		t.Fatal(err)
	}
}

// both are the two kinds of folder, of the same files.
func both(t *testing.T, dir string) map[string]Folder {
	server := httptest.NewServer(&webdav.Handler{Prefix: "/shared docs", FileSystem: webdav.Dir(dir), LockSystem: webdav.NewMemLS()})
	t.Cleanup(server.Close)
	return map[string]Folder{"directory": Dir(dir), "WebDAV": &WebDAV{server.URL + "/shared%20docs", http.DefaultClient.Do}}
}

func TestFilesAreListedAndOpened(t *testing.T) {
	dir := t.TempDir()
	for path, data := range map[string]string{"a.txt": "one", "ponds/b é.txt": "two", "ponds/deep/c.txt": "three", ".hidden": "x", ".git/d.txt": "y"} {
		write(t, dir, path, data)
	}
	for kind, f := range both(t, dir) {
		files, err := f.Files(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		var paths []string
		for _, one := range files {
			paths = append(paths, one.Path)
		}
		slices.Sort(paths)
		if want := []string{"a.txt", "ponds/b é.txt", "ponds/deep/c.txt"}; !slices.Equal(paths, want) {
			t.Errorf("%s: %q", kind, paths)
		}
		r, err := f.Open(t.Context(), "ponds/b é.txt")
		if err != nil {
			t.Fatal(err)
		}
		if data, _ := io.ReadAll(r); string(data) != "two" {
			t.Errorf("%s: the file holds %q", kind, data)
		}
		r.Close()
	}
	if _, err := Dir(dir).Open(t.Context(), "../x"); err == nil {
		t.Error("a file outside of the directory is opened")
	}
	if _, err := Dir(dir + "/none").Files(context.Background()); err == nil {
		t.Error("a directory that is not there is empty")
	}
}

func TestChanges(t *testing.T) {
	known := map[string]Known{}
	start := time.Date(2026, 3, 1, 8, 0, 0, 0, time.UTC)
	look := func(minutes int, files ...File) []Change {
		changes := Compare(known, files, start.Add(time.Duration(minutes)*time.Minute), 10*time.Minute)
		for _, c := range changes {
			if c.Remove {
				delete(known, c.Path)
				continue
			}
			k := known[c.Path]
			k.Taken = c.State
			known[c.Path] = k
		}
		return changes
	}
	steps := []struct {
		at    int
		files []File
		want  []Change
	}{
		{0, []File{{"a", "1"}, {"b", "1"}}, nil},                                     // may still be written
		{1, []File{{"a", "1"}, {"b", "2"}}, []Change{{Path: "a", State: "1"}}},       // b is being written
		{2, []File{{"a", "1"}, {"b", "2"}}, []Change{{Path: "b", State: "2"}}},       // now it is done
		{3, []File{{"a", "2"}}, nil},                                                 // a has changed, b is gone
		{4, []File{{"a", "2"}, {"b", "2"}}, []Change{{Path: "a", State: "2"}}},       // b was only being moved
		{5, []File{{"a", "2"}}, nil},                                                 // b is gone
		{16, []File{{"a", "2"}}, []Change{{Path: "b", Remove: true}}},                // and stays so
		{17, []File{{"a", "2"}}, nil}, {18, nil, nil}, {19, []File{{"a", "2"}}, nil}, // a is back within the grace
	}
	for _, s := range steps {
		if got := look(s.at, s.files...); !slices.Equal(got, s.want) {
			t.Errorf("minute %d: %+v, want %+v", s.at, got, s.want)
		}
	}
	if Name("ponds/deep/c.txt") != "ponds - deep - c.txt" {
		t.Errorf("it is called %q", Name("ponds/deep/c.txt"))
	}
}
