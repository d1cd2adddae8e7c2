package store

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
)

func open(t *testing.T, dir string) *Store {
	t.Helper()
	s, err := Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s
}

func create(t *testing.T, s *Store, name string) *Collection {
	t.Helper()
	c, err := s.CreateCollection(t.Context(), name, map[string]int{"target": 100})
	if err != nil {
		t.Fatal(err)
	}
	return c
}

func keep(t *testing.T, s *Store, content string) (string, int64) {
	t.Helper()
	sum, size, err := s.Keep(strings.NewReader(content), 1000)
	if err != nil {
		t.Fatal(err)
	}
	return sum, size
}

func add(t *testing.T, s *Store, c *Collection, name, content string) (*Document, bool) {
	t.Helper()
	sum, size := keep(t, s, content)
	d, added, err := s.AddDocument(t.Context(), c, name, sum, size)
	if err = errors.Join(err, s.Release(sum)); err != nil {
		t.Fatal(err)
	}
	return d, added
}

func TestKeep(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	sum, size := keep(t, s, "hello")
	if size != 5 || sum != "2cf24dba5fb0a30e26e83b2ac5b9e29e1b161e5c1fa7425e73043362938b9824" {
		t.Errorf("kept as %s with %d bytes", sum, size)
	}
	if data, err := os.ReadFile(s.FilePath(sum)); err != nil || string(data) != "hello" {
		t.Errorf("the file holds %q, error %v", data, err)
	}
	if again, _ := keep(t, s, "hello"); again != sum {
		t.Error("the same content has another hash")
	}
	if _, _, err := s.Keep(bytes.NewReader(make([]byte, 1001)), 1000); !errors.Is(err, ErrTooLong) {
		t.Errorf("a long file gives %v", err)
	}
	if left, _ := os.ReadDir(filepath.Join(dir, "incoming")); len(left) != 0 {
		t.Errorf("%d files are left in incoming", len(left))
	}
}

// TestHeld holds that files are removed when nobody has them, and not while somebody may want them.
func TestHeld(t *testing.T) {
	s := open(t, t.TempDir())
	c := create(t, s, "a")
	isThere := func(sum string) bool { _, err := os.Stat(s.FilePath(sum)); return err == nil }

	sum, size := keep(t, s, "hello")
	if gone, err := s.Drop(t.Context(), sum); err != nil || !gone || !isThere(sum) {
		t.Errorf("what has just come in is dropped: %v, error %v", gone, err)
	}
	d, _, err := s.AddDocument(t.Context(), c, "x.pdf", sum, size)
	if err = errors.Join(err, s.Release(sum)); err != nil || !isThere(sum) {
		t.Fatalf("the file of a document is gone; error %v", err)
	}
	none, _ := keep(t, s, "of no document")
	if err := s.Release(none); err != nil || isThere(none) {
		t.Errorf("a file of no document stays; error %v", err)
	}

	release := s.holdAll()
	if err := s.RemoveDocument(t.Context(), d.ID); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Drop(t.Context(), sum); err != nil || !isThere(sum) {
		t.Errorf("a file is gone while a snapshot is taken; error %v", err)
	}
	if err := release(); err != nil || isThere(sum) {
		t.Errorf("a file that was dropped meanwhile stays; error %v", err)
	}
}

func TestLeftoversOfUploadsAreCleared(t *testing.T) {
	dir := t.TempDir()
	open(t, dir).Close()
	os.WriteFile(filepath.Join(dir, "incoming", "file-1"), []byte("half"), 0o644)
	open(t, dir)
	if left, _ := os.ReadDir(filepath.Join(dir, "incoming")); len(left) != 0 {
		t.Error("a broken upload was kept")
	}
}

func TestCollections(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "b")
	c := create(t, s, "a")
	if _, err := s.CreateCollection(t.Context(), "a", nil); !errors.Is(err, ErrExists) {
		t.Errorf("a second collection of the name gives %v", err)
	}
	all, err := s.Collections(t.Context())
	if err != nil || len(all) != 2 || all[0].Name != "a" || string(all[0].Recipe) != `{"target":100}` || all[0].Created.IsZero() {
		t.Errorf("collections are %+v, error %v", all, err)
	}
	d, _ := add(t, s, c, "x.pdf", "x")
	if err := s.RemoveCollection(t.Context(), c.ID); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Document(t.Context(), d.ID); !errors.Is(err, ErrNotFound) {
		t.Errorf("a document outlived its collection: %v", err)
	}
	if err := s.RemoveCollection(t.Context(), c.ID); !errors.Is(err, ErrNotFound) {
		t.Errorf("removing twice gives %v", err)
	}
}

func TestSameContentIsOneDocument(t *testing.T) {
	s := open(t, t.TempDir())
	c, other := create(t, s, "a"), create(t, s, "b")
	first, added := add(t, s, c, "x.pdf", "same")
	second, again := add(t, s, c, "y.pdf", "same")
	if !added || again || second.ID != first.ID || second.Name != "x.pdf" {
		t.Errorf("first %+v, then %+v", first, second)
	}
	if third, added := add(t, s, other, "x.pdf", "same"); !added || third.ID == first.ID {
		t.Error("another collection does not get a document of its own")
	}
}

func TestFailedDocumentIsQueuedAnew(t *testing.T) {
	s := open(t, t.TempDir())
	c := create(t, s, "a")
	d, _ := add(t, s, c, "x.pdf", "x")
	if err := s.SetState(t.Context(), d.ID, Failed, "no text"); err != nil {
		t.Fatal(err)
	}
	again, added := add(t, s, c, "x.pdf", "x")
	if !added || again.ID != d.ID || again.State != Queued || again.Reason != "" {
		t.Errorf("again it is %+v", again)
	}
}

func TestIntakeOfADocument(t *testing.T) {
	ctx := context.Background()
	dir := t.TempDir()
	s := open(t, dir)
	c := create(t, s, "a")
	old, _ := add(t, s, c, "x.pdf", "old")
	d, _ := add(t, s, c, "x.pdf", "new")
	for _, one := range []*Document{old, d} {
		one.Title, one.Language, one.Pages, one.Labels = "Title", "en", 2, []string{"i", "1"}
		if err := s.SetRead(ctx, one, [][]byte{[]byte("p1"), []byte("p2")}); err != nil {
			t.Fatal(err)
		}
	}
	if unfinished, err := s.Unfinished(ctx); err != nil || len(unfinished) != 2 {
		t.Errorf("unfinished are %+v, error %v", unfinished, err)
	}
	if err := s.SetReady(ctx, map[string]Counts{old.ID: {Passages: 3}}, nil); err != nil {
		t.Fatal(err)
	}
	if err := s.SetReady(ctx, map[string]Counts{d.ID: {Passages: 4}}, []string{old.ID}); err != nil {
		t.Fatal(err)
	}
	s.Close()
	s = open(t, dir)
	named, err := s.DocumentNamed(ctx, c.ID, "x.pdf")
	if err != nil || named.ID != d.ID || named.State != Ready || named.Passages != 4 || named.Labels[0] != "i" {
		t.Errorf("the name stands for %+v, error %v", named, err)
	}
	if was, err := s.DocumentNamed(ctx, c.ID, old.ID); err != nil || was.State != Replaced {
		t.Errorf("the old one is %+v, error %v", was, err)
	}
	if page, err := s.Page(ctx, old.SHA256, 2); err != nil || string(page) != "p2" {
		t.Errorf("page 2 of the old one is %q, error %v", page, err)
	}
	if _, err := s.Page(ctx, d.SHA256, 3); !errors.Is(err, ErrNotFound) {
		t.Errorf("page 3 gives %v", err)
	}
	if err := s.RemoveDocument(ctx, d.ID); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Drop(ctx, d.SHA256); err != nil {
		t.Fatal(err)
	}
	if pages, err := s.Pages(ctx, d.SHA256); err != nil || len(pages) != 0 {
		t.Errorf("%d pages are left, error %v", len(pages), err)
	}
	if _, err := os.Stat(s.FilePath(d.SHA256)); !os.IsNotExist(err) {
		t.Error("the file of a removed document is left")
	}
}

func TestNewerSchemaIsRefused(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	if _, err := s.db.Exec("PRAGMA user_version = 99"); err != nil {
		t.Fatal(err)
	}
	s.Close()
	if _, err := Open(t.Context(), dir); err == nil || !strings.Contains(err.Error(), "newer version") {
		t.Errorf("error is %v", err)
	}
}

// TestOldDataOpens opens records as programs before people and keys wrote them.
func TestOldDataOpens(t *testing.T) {
	const before = 6 // versions of the schema
	dir := t.TempDir()
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, Records))
	if err != nil {
		t.Fatal(err)
	}
	steps := append(slices.Clone(schema[:before]), fmt.Sprintf("PRAGMA user_version = %d", before),
		"INSERT INTO collections (id, name, created, recipe) VALUES ('c', 'garden', '2026-01-01T00:00:00.000Z', '{}')",
		"INSERT INTO documents (id, collection, name, sha256, size, state, added, changed, pages) VALUES ('d', 'c', 'a.pdf', 'x', 1, 'ready', '', '', 1)",
		"INSERT INTO pages (sha256, number, data) VALUES ('x', 1, x'70616765')",
		"INSERT INTO conversations VALUES ('k', 'c', '2026-01-01T00:00:00.000Z', '2026-01-01T00:00:00.000Z')",
		"INSERT INTO turns VALUES ('k', 1, '2026-01-01T00:00:00.000Z', 'Who?', '{}')")
	for _, step := range steps {
		if _, err := db.Exec(step); err != nil {
			t.Fatal(err)
		}
	}
	if err := db.Close(); err != nil {
		t.Fatal(err)
	}
	s, err := Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if d, err := s.DocumentNamed(t.Context(), "c", "a.pdf"); err != nil || d.State != Ready {
		t.Errorf("the document is %+v, error %v", d, err)
	}
	if page, err := s.Page(t.Context(), "x", 1); err != nil || string(page) != "page" {
		t.Errorf("its page is %q, error %v", page, err)
	}
	if _, err := os.Stat(filepath.Join(dir, Records+".before-7")); err != nil {
		t.Errorf("no copy was made first: %v", err)
	}
	if c, err := s.Conversation(t.Context(), "c", "k"); err != nil || c.Owner != "" {
		t.Errorf("the conversation is %+v, error %v", c, err)
	}
}

func TestMeasurements(t *testing.T) {
	s := open(t, t.TempDir())
	c := create(t, s, "a")
	for _, id := range []string{"m1", "m2"} {
		if err := s.AddMeasurement(t.Context(), id, c.ID, []byte(`{"id":"`+id+`"}`), []byte("whole "+id)); err != nil {
			t.Fatal(err)
		}
	}
	all, err := s.Measurements(t.Context(), "")
	if err != nil || len(all) != 2 {
		t.Errorf("%d measurements, error %v", len(all), err)
	}
	if m, err := s.Measurement(t.Context(), "m2"); err != nil || string(m.Data) != "whole m2" || m.Collection != c.ID {
		t.Errorf("measurement is %+v, error %v", m, err)
	}
	if _, err := s.Measurement(t.Context(), "m3"); !errors.Is(err, ErrNotFound) {
		t.Errorf("a missing one gives %v", err)
	}
}
