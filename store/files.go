package store

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base32"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"sync"
)

// NewID returns a random identifier that is short enough to read out.
func NewID() string { return rand.Text()[:13] }

// documentID returns the identifier of a content in a collection. The same
// content gets the same one again, in every store, so that links last and equal
// scores are ordered the same way everywhere.
func documentID(collection, sum string) string {
	hash := sha256.Sum256([]byte(collection + "\x00" + sum))
	return base32.StdEncoding.EncodeToString(hash[:])[:13]
}

// Keep stores what r holds under the hash of its content and returns the hash
// and the size. It is on disk when Keep returns, and stays until Release even if no
// document has it. Beyond limit bytes Keep gives up with ErrTooLong.
func (s *Store) Keep(r io.Reader, limit int64) (sum string, size int64, err error) {
	f, err := os.CreateTemp(filepath.Join(s.dir, "incoming"), "file-")
	if err != nil {
		return "", 0, fmt.Errorf("store: keep a file: %w", err)
	}
	defer os.Remove(f.Name()) // gone already when all went well
	defer f.Close()
	hash := sha256.New()
	size, err = io.Copy(io.MultiWriter(f, hash), io.LimitReader(r, limit+1))
	if err != nil {
		return "", size, fmt.Errorf("store: keep a file: %w", err)
	}
	if size > limit {
		return "", size, ErrTooLong
	}
	sum = hex.EncodeToString(hash.Sum(nil))
	// If it is here already it takes the old one's place, which may have been damaged.
	path := s.FilePath(sum)
	s.held.hold(sum)
	if err := errors.Join(place(f, path), syncDir(filepath.Dir(path))); err != nil {
		return "", size, errors.Join(fmt.Errorf("store: keep a file: %w", err), s.Release(sum))
	}
	return sum, size, nil
}

// place gives a file that came in the name by which it is found, once it is on disk.
func place(f *os.File, path string) error {
	if err := f.Sync(); err != nil {
		return err
	}
	return os.Rename(f.Name(), path)
}

// ErrTooLong says that a file is longer than the limit.
var ErrTooLong = errors.New("the file is too large")

func syncDir(path string) error {
	dir, err := os.Open(path)
	if err != nil {
		return fmt.Errorf("store: %w", err)
	}
	defer dir.Close()
	if err := dir.Sync(); err != nil {
		return fmt.Errorf("store: %w", err)
	}
	return nil
}

// FilePath returns where the file with this hash is kept.
func (s *Store) FilePath(sum string) string { return filepath.Join(s.dir, "files", sum) }

// RenditionPath returns where the pages of a file that is no PDF are kept, once they are set.
func (s *Store) RenditionPath(sum string) string {
	return filepath.Join(s.dir, "renditions", sum+".pdf")
}

// KeepRendition keeps the pages of a file that is no PDF. They are made again when they are gone,
// and are in no backup.
func (s *Store) KeepRendition(sum string, pages []byte) error {
	return s.Put(s.RenditionPath(sum), func(w io.Writer) error {
		_, err := w.Write(pages)
		return err
	})
}

// Put writes a file inside the data directory; it is there as a whole, or not at all.
func (s *Store) Put(path string, write func(io.Writer) error) error {
	f, err := os.CreateTemp(filepath.Join(s.dir, "incoming"), "put-")
	if err != nil {
		return fmt.Errorf("store: keep a file: %w", err)
	}
	defer os.Remove(f.Name()) // gone already when all went well
	defer f.Close()
	if err := write(f); err != nil {
		return fmt.Errorf("store: keep a file: %w", err)
	}
	if err := place(f, path); err != nil {
		return fmt.Errorf("store: keep a file: %w", err)
	}
	return nil
}

// clearIncoming removes what uploads left behind when the program was killed.
func (s *Store) clearIncoming() error {
	entries, err := os.ReadDir(filepath.Join(s.dir, "incoming"))
	if err != nil {
		return fmt.Errorf("store: %w", err)
	}
	for _, e := range entries {
		os.RemoveAll(filepath.Join(s.dir, "incoming", e.Name()))
	}
	return nil
}

// Drop removes a file and its pages if no document has the content any more, and tells whether it did.
func (s *Store) Drop(ctx context.Context, sum string) (gone bool, err error) {
	var dropped []string
	err = s.inTx(ctx, func(tx *Tx) error {
		dropped = nil
		var n int
		if err := tx.QueryRowContext(ctx, "SELECT count(*) FROM documents WHERE sha256 = ?", sum).Scan(&n); err != nil || n > 0 {
			return err
		}
		dropped = []string{sum}
		if tx.change != nil {
			tx.change.Dropped = dropped
		}
		_, err := tx.ExecContext(ctx, "DELETE FROM pages WHERE sha256 = ?", sum)
		return err
	})
	if err != nil {
		return false, fmt.Errorf("store: drop pages: %w", err)
	}
	return len(dropped) > 0, s.removeFiles(dropped)
}

// A holding is the files that may not be removed now though no document has them: what came in a
// moment ago, of which there is no record yet, and everything while a snapshot is taken.
type holding struct {
	mu   sync.Mutex
	of   map[string]int  // how many came in and are not released
	all  int             // how many snapshots are being taken
	late map[string]bool // what was to be removed meanwhile
}

func (h *holding) hold(sum string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.of[sum]++
}

// Release says that a file that was kept is in the records now, or never will be; then it is removed.
func (s *Store) Release(sum string) error {
	h := &s.held
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.of[sum]--; h.of[sum] <= 0 {
		delete(h.of, sum)
	}
	return s.removeUnused(sum)
}

// holdAll keeps all files until release is called, which removes what was to be removed meanwhile.
func (s *Store) holdAll() (release func() error) {
	h := &s.held
	h.mu.Lock()
	defer h.mu.Unlock()
	h.all++
	return func() error {
		h.mu.Lock()
		defer h.mu.Unlock()
		h.all--
		var err error
		for sum := range h.late {
			err = errors.Join(err, s.removeUnused(sum))
		}
		return err
	}
}

// removeFiles removes the files of contents that no document has any more.
func (s *Store) removeFiles(sums []string) error {
	s.held.mu.Lock()
	defer s.held.mu.Unlock()
	for _, sum := range sums {
		if err := s.removeUnused(sum); err != nil {
			return err
		}
	}
	return nil
}

// removeUnused removes the files of a content, now or when they are held no longer, unless a document
// has it. The holding is locked.
func (s *Store) removeUnused(sum string) error {
	h := &s.held
	if h.all > 0 || h.of[sum] > 0 {
		h.late[sum] = true
		return nil
	}
	delete(h.late, sum)
	var n int
	if err := s.db.QueryRow("SELECT count(*) FROM documents WHERE sha256 = ?", sum).Scan(&n); err != nil {
		return fmt.Errorf("store: drop a file: %w", err)
	}
	if n > 0 {
		return nil
	}
	for _, path := range []string{s.FilePath(sum), s.RenditionPath(sum)} {
		if err := os.Remove(path); err != nil && !errors.Is(err, os.ErrNotExist) {
			return fmt.Errorf("store: drop a file: %w", err)
		}
	}
	return nil
}
