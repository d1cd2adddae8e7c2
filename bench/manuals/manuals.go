// Package manuals knows the real manuals that Jardinet is measured on: where in
// Debian's packages they are, and what their content must be. They are fetched
// into a cache that git ignores; nobody here wrote them.
package manuals

import (
	"bytes"
	"compress/gzip"
	"context"
	"crypto/sha256"
	_ "embed"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"strings"

	"jardinet/measure"
)

// A Manual is one PDF of a Debian package.
type Manual struct {
	Name    string // file name in the cache
	Package string
	Path    string // within the package; .gz is unpacked
	SHA256  string // of the PDF
}

var (
	//go:embed manuals.tsv
	known string
	//go:embed unseen.tsv
	unseen string
)

// Known returns the manuals on which things are fitted and tried out.
func Known() []Manual { return read(known) }

// Unseen returns the manuals on which nothing is fitted: what is measured there is what
// strangers get.
func Unseen() []Manual { return read(unseen) }

// All returns both.
func All() []Manual { return append(Known(), Unseen()...) }

func read(list string) []Manual {
	var out []Manual
	for _, line := range strings.Split(strings.TrimSpace(list), "\n") {
		if f := strings.Split(line, "\t"); len(f) == 4 {
			out = append(out, Manual{f[0], f[1], f[2], f[3]})
		}
	}
	return out
}

// Fetch puts the manuals that the cache lacks into it, with apt-get and
// dpkg-deb, and checks all of them.
func Fetch(ctx context.Context, cache string, log func(format string, args ...any)) error {
	if err := os.MkdirAll(cache, 0o755); err != nil {
		return err
	}
	missing := map[string][]Manual{}
	var order []string
	for _, m := range All() {
		if check(filepath.Join(cache, m.Name), m.SHA256) == nil {
			continue
		}
		if missing[m.Package] == nil {
			order = append(order, m.Package)
		}
		missing[m.Package] = append(missing[m.Package], m)
	}
	for _, name := range order {
		log("fetching %s", name)
		if err := fetchPackage(ctx, cache, name, missing[name]); err != nil {
			return fmt.Errorf("package %s: %w", name, err)
		}
	}
	return nil
}

// fetchPackage downloads a package and takes its manuals out.
func fetchPackage(ctx context.Context, cache, name string, wanted []Manual) error {
	dir, err := os.MkdirTemp(cache, "package-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	root, err := Unpack(ctx, name, dir)
	if err != nil {
		return err
	}
	for _, m := range wanted {
		if err := unpack(filepath.Join(root, m.Path), filepath.Join(cache, m.Name)); err != nil {
			return fmt.Errorf("%s: %w", m.Path, err)
		}
		if err := check(filepath.Join(cache, m.Name), m.SHA256); err != nil {
			return fmt.Errorf("%s: %w; the package has another version, choose a Debian 12 mirror", m.Name, err)
		}
	}
	return nil
}

// Unpack downloads a Debian package into a folder that is empty, unpacks it there, and
// returns where its files are.
func Unpack(ctx context.Context, pkg, dir string) (root string, err error) {
	get := exec.CommandContext(ctx, "apt-get", "download", "-q", pkg)
	get.Dir = dir
	if out, err := get.CombinedOutput(); err != nil {
		return "", fmt.Errorf("apt-get download %s: %w: %s; run apt-get update once, then again", pkg, err, bytes.TrimSpace(out))
	}
	debs, err := filepath.Glob(filepath.Join(dir, "*.deb"))
	if err != nil || len(debs) != 1 {
		return "", errors.Join(fmt.Errorf("apt-get left %d files", len(debs)), err)
	}
	root = filepath.Join(dir, "x")
	if out, err := exec.CommandContext(ctx, "dpkg-deb", "-x", debs[0], root).CombinedOutput(); err != nil {
		return "", fmt.Errorf("dpkg-deb: %w: %s", err, bytes.TrimSpace(out))
	}
	return root, nil
}

// Read reads a file, and takes it out of gzip if its name says so.
func Read(path string) ([]byte, error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	if !strings.HasSuffix(path, ".gz") {
		return io.ReadAll(f)
	}
	r, err := gzip.NewReader(f)
	if err != nil {
		return nil, err
	}
	return io.ReadAll(r)
}

func unpack(from, to string) error {
	data, err := Read(from)
	if err != nil {
		return err
	}
	return os.WriteFile(to, data, 0o644)
}

func check(path, want string) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	defer f.Close()
	hash := sha256.New()
	if _, err := io.Copy(hash, f); err != nil {
		return err
	}
	if got := hex.EncodeToString(hash.Sum(nil)); got != want {
		return fmt.Errorf("its SHA-256 is %s, want %s", got, want)
	}
	return nil
}

// Questions reads a set of questions on the manuals from a folder: "train" or "test" on
// the known ones, "unseen" on the others.
func Questions(dir, half string) (*measure.Set, error) {
	name := half + ".jsonl"
	data, err := os.ReadFile(filepath.Join(dir, name))
	if err != nil {
		return nil, err
	}
	return measure.ReadSet(name, data)
}
