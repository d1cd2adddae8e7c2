package main

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"jardinet/api"
)

// Of the folder that is watched.
const (
	watchedFiles  = 2000
	changesAtOnce = 40
	watchedFor    = 10 * time.Minute
)

// folders changes a watched folder of two thousand files for ten minutes, kills the service in
// between, and holds what is in the collection to what is in the folder.
func folders(ctx context.Context, n int) ([]row, error) {
	dir, data := filepath.Join(os.TempDir(), "trust-watched"), filepath.Join(os.TempDir(), "trust-watched-data")
	for _, path := range []string{dir, data} {
		os.RemoveAll(path)
		defer os.RemoveAll(path)
		if err := os.MkdirAll(path, 0o755); err != nil {
			return nil, err
		}
	}
	files := map[string]string{} // what is in each, by name
	for i := range watchedFiles {
		if err := writeNote(dir, i, 0, files); err != nil {
			return nil, err
		}
	}
	d, err := serve(ctx, data, "--watch-below", dir)
	if err != nil {
		return nil, err
	}
	defer func() { d.kill() }()
	if _, err := d.CreateCollection(ctx, "garden", nil); err != nil {
		return nil, err
	}
	if _, err := d.AddSource(ctx, "garden", api.Source{Kind: "folder", At: dir}); err != nil {
		return nil, err
	}
	r := rand.New(rand.NewPCG(28, 1))
	changes, kills := 0, 0
	for began := time.Now(); time.Since(began) < watchedFor*time.Duration(n); {
		for range changesAtOnce {
			i := r.IntN(watchedFiles + 200)
			name := note(i)
			if r.IntN(4) == 0 {
				os.Remove(filepath.Join(dir, name))
				delete(files, strings.ReplaceAll(name, "/", " - "))
			} else if err := writeNote(dir, i, changes, files); err != nil {
				return nil, err
			}
			changes++
		}
		if r.IntN(12) == 0 {
			d.kill()
			kills++
			if d, err = serve(ctx, data, "--watch-below", dir); err != nil {
				return nil, err
			}
		}
		if err := rest(ctx, 5*time.Second); err != nil {
			return nil, err
		}
	}
	wrong, err := settledAs(ctx, d, files)
	if err != nil {
		return nil, err
	}
	return []row{{"files of a watched folder, as in the folder", len(files), len(files) - len(wrong), fmt.Sprintf("after %d changes and %d kills in %s; %s", changes, kills, watchedFor*time.Duration(n), strings.Join(wrong[:min(3, len(wrong))], ", "))}}, nil
}

func rest(ctx context.Context, d time.Duration) error {
	select {
	case <-ctx.Done():
		return ctx.Err()
	case <-time.After(d):
		return nil
	}
}

func note(i int) string { return fmt.Sprintf("bed %02d/note-%04d.txt", i%20, i) }

func writeNote(dir string, i, change int, files map[string]string) error {
	path := filepath.Join(dir, note(i))
	text := fmt.Sprintf("Bed %d was dug over for the time %d.\n", i, change)
	files[strings.ReplaceAll(note(i), "/", " - ")] = text
	if err := os.MkdirAll(filepath.Dir(path), 0o755); err != nil {
		return err
	}
	return os.WriteFile(path, []byte(text), 0o644)
}

// settledAs waits until the collection is as the folder, two minutes after the last change at
// most, and names what is not.
func settledAs(ctx context.Context, d *daemon, files map[string]string) (wrong []string, err error) {
	for began := time.Now(); time.Since(began) < 10*time.Minute; {
		if err := rest(ctx, 5*time.Second); err != nil {
			return nil, err
		}
		if wrong, err = otherThan(ctx, d, files); err != nil || len(wrong) == 0 {
			return wrong, err
		}
	}
	return wrong, nil
}

// otherThan names the files that are missing, too many, or not as they are in the folder.
func otherThan(ctx context.Context, d *daemon, files map[string]string) ([]string, error) {
	docs, err := d.Documents(ctx, "garden")
	if err != nil {
		return nil, err
	}
	wrong := map[string]bool{}
	for name := range files {
		wrong[name] = true
	}
	for _, doc := range docs {
		text, there := files[doc.Name]
		wrong[doc.Name] = !there || doc.State != "ready" || doc.SHA256 != sum(text)
	}
	var out []string
	for name, is := range wrong {
		if is {
			out = append(out, name)
		}
	}
	slices.Sort(out)
	return out, nil
}

func sum(text string) string {
	hash := sha256.Sum256([]byte(text))
	return hex.EncodeToString(hash[:])
}
