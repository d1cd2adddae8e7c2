package service

import (
	"bytes"
	"database/sql"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/backup"
	"jardinet/modelapi"
	"jardinet/store"
)

// behind changes the records behind the service's back.
func behind(t *testing.T, dir, query string, args ...any) {
	t.Helper()
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, store.Records)+"?_pragma=busy_timeout(5000)")
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	if _, err := db.Exec(query, args...); err != nil {
		t.Fatal(err)
	}
}

func inspect(t *testing.T, s *Service, mend bool) []api.Damage {
	t.Helper()
	damages, err := s.Inspect(t.Context(), mend, nil)
	if err != nil {
		t.Fatal(err)
	}
	return damages
}

const damagePage = "UPDATE pages SET data = zeroblob(length(data)) WHERE number = 1"

func TestInspect(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	create(t, s, "garden")
	add(t, s, "garden", "storm-damage-report.pdf")
	settle(t, s, "garden")
	if damages := inspect(t, s, true); len(damages) != 0 {
		t.Fatalf("damaged from the start: %+v", damages)
	}
	behind(t, dir, damagePage)
	damages := inspect(t, s, false)
	if len(damages) != 1 || damages[0].Document != "storm-damage-report.pdf" || damages[0].Mended || !strings.Contains(damages[0].What, "page 1") {
		t.Fatalf("a damaged page: %+v", damages)
	}
	if damages = inspect(t, s, true); len(damages) != 1 || !damages[0].Mended {
		t.Fatalf("mending it: %+v", damages)
	}
	if docs := settle(t, s, "garden"); docs["storm-damage-report.pdf"].State != "ready" {
		t.Fatalf("after mending: %+v", docs)
	}
	if damages = inspect(t, s, false); len(damages) != 0 {
		t.Fatalf("after mending: %+v", damages)
	}
	originals, err := filepath.Glob(filepath.Join(dir, "files", "*"))
	if err != nil || len(originals) != 1 {
		t.Fatal(originals, err)
	}
	if err := os.Remove(originals[0]); err != nil {
		t.Fatal(err)
	}
	if damages = inspect(t, s, true); len(damages) != 1 || !strings.Contains(damages[0].What, "add the file again") {
		t.Fatalf("without its original: %+v", damages)
	}
	add(t, s, "garden", "storm-damage-report.pdf")
	if damages = inspect(t, s, false); len(damages) != 0 {
		t.Errorf("added again: %+v", damages)
	}
}

// TestOneDamagedDocumentIsSetAside starts with an index to be made anew and a damaged page.
func TestOneDamagedDocumentIsSetAside(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	create(t, s, "garden")
	add(t, s, "garden", "storm-damage-report.pdf", "seed-vault-manual.pdf")
	settle(t, s, "garden")
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	behind(t, dir, damagePage)
	if err := os.RemoveAll(filepath.Join(dir, "index")); err != nil {
		t.Fatal(err)
	}
	s = open(t, dir)
	for name, d := range settle(t, s, "garden") {
		if d.State != "ready" {
			t.Errorf("%s is %s: %s", name, d.State, d.Reason)
		}
	}
	if damages := inspect(t, s, false); len(damages) != 0 {
		t.Errorf("still damaged: %+v", damages)
	}
}

// TestFailedRereadKeepsWhatWasRead reads a document again whose original has gone.
func TestFailedRereadKeepsWhatWasRead(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	create(t, s, "garden")
	add(t, s, "garden", "storm-damage-report.pdf")
	settle(t, s, "garden")
	before := ask(t, s, "garden", "What was the highest gust?")
	if err := os.RemoveAll(filepath.Join(dir, "files")); err != nil {
		t.Fatal(err)
	}
	if err := s.ReadAgain(t.Context(), "garden", "storm-damage-report.pdf"); err != nil {
		t.Fatal(err)
	}
	d := settle(t, s, "garden")["storm-damage-report.pdf"]
	if d.State != "ready" || !strings.Contains(d.Warning, "as it was read before") {
		t.Fatalf("it is %s: %q, %q", d.State, d.Reason, d.Warning)
	}
	if after := ask(t, s, "garden", "What was the highest gust?"); after.Text != before.Text {
		t.Errorf("it answers %q, before %q", after.Text, before.Text)
	}
}

func TestBackupAndRestore(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	add(t, s, "garden", "storm-damage-report.pdf")
	settle(t, s, "garden")
	before := ask(t, s, "garden", "What was the highest gust?")
	var archive bytes.Buffer
	if err := s.Backup(t.Context(), &archive, nil); err != nil {
		t.Fatal(err)
	}
	path := filepath.Join(t.TempDir(), "b.tar")
	if err := os.WriteFile(path, archive.Bytes(), 0o600); err != nil {
		t.Fatal(err)
	}
	into := filepath.Join(t.TempDir(), "new")
	if _, err := backup.Restore(into, path); err != nil {
		t.Fatal(err)
	}
	restored := open(t, into)
	settle(t, restored, "garden")
	if after := ask(t, restored, "garden", "What was the highest gust?"); after.Text != before.Text {
		t.Errorf("restored it answers %q, before %q", after.Text, before.Text)
	}
	if damages := inspect(t, restored, false); len(damages) != 0 {
		t.Errorf("restored damaged: %+v", damages)
	}
}

// TestLostRecordsAreNotHidden starts where originals are and no records.
func TestLostRecordsAreNotHidden(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	create(t, s, "garden")
	add(t, s, "garden", "storm-damage-report.pdf")
	settle(t, s, "garden")
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	for _, name := range []string{"", "-wal", "-shm"} {
		os.Remove(filepath.Join(dir, store.Records+name))
	}
	if s, err := Open(t.Context(), Options{Data: dir, Scripts: []string{"none"}}); err == nil {
		s.Close()
		t.Error("it begins anew without a word")
	} else if !strings.Contains(err.Error(), "restore") {
		t.Errorf("it does not say what to do: %v", err)
	}
}

func TestBudgetIsReserved(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	c, err := s.named("garden")
	if err != nil {
		t.Fatal(err)
	}
	m := &answer.Model{MostTokens: 5000}
	most := m.Most()
	var settles []func(modelapi.Usage) error
	for range 5 {
		settle, err := s.reserve(t.Context(), c, m)
		if err != nil {
			t.Fatal(err)
		}
		if settle != nil {
			settles = append(settles, settle)
		}
	}
	if want := 5000 / (most.Prompt + most.Completion); len(settles) != want {
		t.Fatalf("%d answers are let through at once, want %d", len(settles), want)
	}
	for _, settle := range settles {
		if err := settle(modelapi.Usage{Prompt: 10, Completion: 5}); err != nil {
			t.Fatal(err)
		}
	}
	if settle, err := s.reserve(t.Context(), c, m); err != nil || settle == nil {
		t.Errorf("after they cost little, another is refused: %v", err)
	}
}
