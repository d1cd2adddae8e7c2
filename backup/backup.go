// Package backup writes, verifies and restores backups of a service.
//
// A backup is a tar archive (POSIX.1-2001) of a manifest, the records and the originals:
//
//	manifest.json
//	jardinet.sqlite
//	files/SHA256 …
//
// The manifest names each file with its size and SHA-256. An incremental backup leaves out
// originals that an earlier one holds; the manifest names them all the same. Indexes are not in
// it: they are made anew from the records.
package backup

import (
	"archive/tar"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path"
	"path/filepath"
	"time"
)

// Names inside an archive.
const (
	manifestName = "manifest.json"
	Records      = "jardinet.sqlite"
	originals    = "files"
)

// format is the version of the archive's layout.
const format = 1

// A Manifest says what a backup holds.
type Manifest struct {
	Format  int       `json:"format"`
	Version string    `json:"version"` // of the program
	Created time.Time `json:"created"`
	Files   []File    `json:"files"`
}

// A File is one in a backup.
type File struct {
	Name    string `json:"name"`
	Size    int64  `json:"size"`
	SHA256  string `json:"sha256"`
	Earlier bool   `json:"earlier,omitempty"` // it is in an earlier backup and not in this one
}

// Write writes a backup of the records and the originals in dir, which must hold still. The
// originals whose hashes are in have are left out.
func Write(w io.Writer, dir, version string, have map[string]bool) error {
	m, err := manifestOf(dir, version, have)
	if err != nil {
		return err
	}
	out := tar.NewWriter(w)
	data, err := json.MarshalIndent(m, "", "  ")
	if err != nil {
		return fmt.Errorf("backup: %w", err)
	}
	if err := writeHeader(out, manifestName, int64(len(data)), m.Created); err != nil {
		return err
	}
	if _, err := out.Write(data); err != nil {
		return fmt.Errorf("backup: %w", err)
	}
	for _, f := range m.Files {
		if f.Earlier {
			continue
		}
		if err := writeFile(out, dir, f, m.Created); err != nil {
			return err
		}
	}
	if err := out.Close(); err != nil {
		return fmt.Errorf("backup: %w", err)
	}
	return nil
}

// manifestOf lists what is in dir. An original is named by its hash; whether it still has it
// is checked where it is written.
func manifestOf(dir, version string, have map[string]bool) (*Manifest, error) {
	m := &Manifest{Format: format, Version: version, Created: time.Now().UTC().Truncate(time.Second)}
	sum, size, err := sumOf(filepath.Join(dir, Records))
	if err != nil {
		return nil, err
	}
	m.Files = append(m.Files, File{Name: Records, Size: size, SHA256: sum})
	entries, err := os.ReadDir(filepath.Join(dir, originals))
	if err != nil {
		return nil, fmt.Errorf("backup: %w", err)
	}
	for _, e := range entries {
		info, err := e.Info()
		if err != nil {
			return nil, fmt.Errorf("backup: %w", err)
		}
		m.Files = append(m.Files, File{Name: path.Join(originals, e.Name()), Size: info.Size(), SHA256: e.Name(), Earlier: have[e.Name()]})
	}
	return m, nil
}

func sumOf(path string) (sum string, size int64, err error) {
	f, err := os.Open(path)
	if err != nil {
		return "", 0, fmt.Errorf("backup: %w", err)
	}
	defer f.Close()
	hash := sha256.New()
	if size, err = io.Copy(hash, f); err != nil {
		return "", 0, fmt.Errorf("backup: read %s: %w", path, err)
	}
	return hex.EncodeToString(hash.Sum(nil)), size, nil
}

func writeHeader(out *tar.Writer, name string, size int64, at time.Time) error {
	err := out.WriteHeader(&tar.Header{Name: name, Size: size, Mode: 0o600, ModTime: at, Typeflag: tar.TypeReg, Format: tar.FormatPAX})
	if err != nil {
		return fmt.Errorf("backup: %w", err)
	}
	return nil
}

func writeFile(out *tar.Writer, dir string, f File, at time.Time) error {
	in, err := os.Open(filepath.Join(dir, filepath.FromSlash(f.Name)))
	if err != nil {
		return fmt.Errorf("backup: %w", err)
	}
	defer in.Close()
	if err := writeHeader(out, f.Name, f.Size, at); err != nil {
		return err
	}
	if _, err := io.Copy(out, in); err != nil {
		return fmt.Errorf("backup: write %s: %w", f.Name, err)
	}
	return nil
}

// ErrBroken says that a backup does not hold what its manifest says.
var ErrBroken = errors.New("the backup is broken")

// Verify reads a backup through, together with those before it that it builds on, and returns
// its manifest. Every file has to be there, with its hash.
func Verify(newest string, earlier ...string) (*Manifest, error) {
	return each(newest, earlier, func(f File, r io.Reader) error {
		_, err := io.Copy(io.Discard, r)
		return err
	})
}

// Restore puts a backup into an empty directory, or one that is made. If anything is wrong
// with it nothing is left behind.
func Restore(dir, newest string, earlier ...string) (*Manifest, error) {
	if entries, err := os.ReadDir(dir); err == nil && len(entries) > 0 {
		return nil, fmt.Errorf("backup: %s is not empty; restore into a new directory", dir)
	}
	made := dir + ".restoring"
	if err := os.RemoveAll(made); err != nil {
		return nil, fmt.Errorf("backup: %w", err)
	}
	defer os.RemoveAll(made)
	if err := os.MkdirAll(filepath.Join(made, originals), 0o700); err != nil {
		return nil, fmt.Errorf("backup: %w", err)
	}
	m, err := each(newest, earlier, func(f File, r io.Reader) error {
		return restoreFile(filepath.Join(made, filepath.FromSlash(f.Name)), r)
	})
	if err != nil {
		return nil, err
	}
	if err := os.RemoveAll(dir); err != nil {
		return nil, fmt.Errorf("backup: %w", err)
	}
	if err := os.Rename(made, dir); err != nil {
		return nil, fmt.Errorf("backup: %w", err)
	}
	return m, nil
}

func restoreFile(path string, r io.Reader) error {
	f, err := os.OpenFile(path, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return fmt.Errorf("backup: %w", err)
	}
	defer f.Close()
	if _, err := io.Copy(f, r); err != nil {
		return fmt.Errorf("backup: restore %s: %w", path, err)
	}
	if err := f.Sync(); err != nil {
		return fmt.Errorf("backup: restore %s: %w", path, err)
	}
	return nil
}

// each hands the files of the newest backup to do, those that it leaves out from the earlier
// ones, and holds each to its hash.
func each(newest string, earlier []string, do func(File, io.Reader) error) (*Manifest, error) {
	m, err := ReadManifest(newest)
	if err != nil {
		return nil, err
	}
	wanted := map[string]File{}
	for _, f := range m.Files {
		wanted[f.Name] = f
	}
	for i, archive := range append([]string{newest}, earlier...) {
		err := walk(archive, func(name string, r io.Reader) error {
			f, ok := wanted[name]
			if !ok || i > 0 && name == Records {
				return nil
			}
			hash := sha256.New()
			counted := &counter{r: io.TeeReader(r, hash)}
			if err := do(f, counted); err != nil {
				return err
			}
			if got := hex.EncodeToString(hash.Sum(nil)); got != f.SHA256 || counted.n != f.Size {
				return fmt.Errorf("%w: %s: %s in it is not what was put in", ErrBroken, archive, name)
			}
			delete(wanted, name)
			return nil
		})
		if err != nil {
			return nil, err
		}
	}
	for name, f := range wanted {
		if f.Earlier {
			return nil, fmt.Errorf("%w: %s is in an earlier backup; name that one too", ErrBroken, name)
		}
		return nil, fmt.Errorf("%w: %s lacks %s", ErrBroken, newest, name)
	}
	return m, nil
}

type counter struct {
	r io.Reader
	n int64
}

func (c *counter) Read(p []byte) (int, error) {
	n, err := c.r.Read(p)
	c.n += int64(n)
	return n, err
}

// ReadManifest reads what a backup says that it holds.
func ReadManifest(archive string) (*Manifest, error) {
	var m *Manifest
	err := walk(archive, func(name string, r io.Reader) error {
		if name != manifestName {
			return fmt.Errorf("%w: %s does not begin with a manifest", ErrBroken, archive)
		}
		m = new(Manifest)
		if err := json.NewDecoder(r).Decode(m); err != nil {
			return fmt.Errorf("%w: the manifest of %s: %w", ErrBroken, archive, err)
		}
		return errEnough
	})
	switch {
	case err != nil && !errors.Is(err, errEnough):
		return nil, err
	case m == nil:
		return nil, fmt.Errorf("%w: %s is empty", ErrBroken, archive)
	case m.Format != format:
		return nil, fmt.Errorf("backup: %s has format %d, this program knows %d", archive, m.Format, format)
	}
	return m, nil
}

var errEnough = errors.New("enough")

// walk hands the members of an archive to do, in their order.
func walk(archive string, do func(name string, r io.Reader) error) error {
	f, err := os.Open(archive)
	if err != nil {
		return fmt.Errorf("backup: %w", err)
	}
	defer f.Close()
	in := tar.NewReader(f)
	for {
		header, err := in.Next()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return fmt.Errorf("%w: %s: %w", ErrBroken, archive, err)
		}
		if err := do(header.Name, in); err != nil {
			if errors.Is(err, io.ErrUnexpectedEOF) {
				err = fmt.Errorf("%w: %s ends early", ErrBroken, archive)
			}
			return err
		}
	}
}

// Hashes returns the originals that a backup or those before it hold, for a further one.
func (m *Manifest) Hashes() []string {
	var out []string
	for _, f := range m.Files {
		if f.Name != Records {
			out = append(out, f.SHA256)
		}
	}
	return out
}
