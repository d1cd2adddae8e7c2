package service

import (
	"bytes"
	"errors"
	"os"
	"path/filepath"
	"testing"
	"time"

	"jardinet/answer"
	"jardinet/layout"
	"jardinet/store"
)

func TestBin(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	as := adder(t, s)
	as("policy.pdf", "quarantine-policy-2021.pdf")
	as("policy.pdf", "quarantine-policy-2024.pdf")
	if all, err := s.Versions(t.Context(), "garden", "policy.pdf"); err != nil || len(all) != 2 || all[0].State != "ready" || all[1].State != "replaced" {
		t.Fatalf("versions %+v, error %v", all, err)
	}
	const question = "How long do plants stay in quarantine?"
	before := ask(t, s, "garden", question)
	removed, err := s.Remove(t.Context(), "garden", "policy.pdf", false)
	if err != nil || removed.Versions != 2 || removed.Pages == 0 {
		t.Fatalf("removed %+v, error %v", removed, err)
	}
	for _, name := range []string{"policy.pdf", removed.Name} {
		if d, err := s.Document(t.Context(), "garden", name); !errors.Is(err, ErrNotFound) {
			t.Errorf("after removal %s is %+v, error %v", name, d, err)
		}
	}
	if a := ask(t, s, "garden", question); a.State != answer.NotFound {
		t.Errorf("after removal it answers %q", a.Text)
	}
	if all, err := s.Bin(t.Context(), "garden"); err != nil || len(all) != 1 || all[0].Versions != 2 {
		t.Errorf("in the bin %+v, error %v", all, err)
	}
	if d, err := s.Restore(t.Context(), "garden", "policy.pdf"); err != nil || d.State != "ready" {
		t.Fatalf("restored %+v, error %v", d, err)
	}
	if a := ask(t, s, "garden", question); a.Text != before.Text {
		t.Errorf("restored it answers %q, before %q", a.Text, before.Text)
	}
	if all, err := s.Versions(t.Context(), "garden", "policy.pdf"); err != nil || len(all) != 2 {
		t.Errorf("restored versions %+v, error %v", all, err)
	}
}

// TestGoneForGood holds that nothing is left of what was purged.
func TestGoneForGood(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	as := adder(t, s)
	as("policy.pdf", "quarantine-policy-2021.pdf")
	as("policy.pdf", "quarantine-policy-2024.pdf")
	c, err := s.named("garden")
	if err != nil {
		t.Fatal(err)
	}
	docs, err := s.store.Documents(t.Context(), c.ID)
	if err != nil {
		t.Fatal(err)
	}
	page, err := s.store.Page(t.Context(), docs[0].SHA256, 1)
	if err != nil {
		t.Fatal(err)
	}
	_, read, err := s.readPage(t.Context(), "garden", docs[0].ID, 1)
	if err != nil {
		t.Fatal(err)
	}
	edits := []layout.Edit{{Was: read.Blocks[0].Text, Drop: true}}
	if _, err := s.Correct(t.Context(), "garden", docs[0].ID, 1, &layout.Corrections{Edits: edits}); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Remove(t.Context(), "garden", "policy.pdf", false); err != nil {
		t.Fatal(err)
	}
	if err := s.emptyBins(t.Context()); err != nil {
		t.Fatal(err)
	}
	if all, _ := s.Bin(t.Context(), "garden"); len(all) != 1 {
		t.Fatalf("what was just removed is gone: %+v", all)
	}
	if err := s.Purge(t.Context(), "garden", "policy.pdf"); err != nil {
		t.Fatal(err)
	}
	if entries, err := os.ReadDir(s.Data + "/files"); err != nil || len(entries) != 0 {
		t.Errorf("originals left: %v, error %v", entries, err)
	}
	if docs, err := s.store.BinnedBefore(t.Context(), time.Now().Add(time.Hour)); err != nil || len(docs) != 0 {
		t.Errorf("records left: %+v, error %v", docs, err)
	}
	if left, err := s.store.Corrections(t.Context()); err != nil || len(left) != 0 {
		t.Errorf("corrections left: %v, error %v", left, err)
	}
	for _, name := range []string{"", "-wal"} {
		kept, err := os.ReadFile(filepath.Join(s.Data, store.Records+name))
		if err == nil && bytes.Contains(kept, page[20:80]) {
			t.Errorf("a page's text is still in %s%s", store.Records, name)
		}
	}
	if _, err := s.Restore(t.Context(), "garden", "policy.pdf"); !errors.Is(err, ErrNotFound) {
		t.Errorf("restored with %v", err)
	}
}

func TestRestoreDoesNotReplace(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	as := adder(t, s)
	as("policy.pdf", "quarantine-policy-2021.pdf")
	if _, err := s.Remove(t.Context(), "garden", "policy.pdf", false); err != nil {
		t.Fatal(err)
	}
	as("policy.pdf", "quarantine-policy-2024.pdf")
	if _, err := s.Restore(t.Context(), "garden", "policy.pdf"); !errors.Is(err, ErrExists) {
		t.Errorf("over another document: %v", err)
	}
	c, err := s.named("garden")
	if err != nil {
		t.Fatal(err)
	}
	docs, err := s.store.Documents(t.Context(), c.ID)
	if err != nil || len(docs) != 2 || docs[0].State != store.Removed && docs[1].State != store.Removed {
		t.Errorf("documents %+v, error %v", docs, err)
	}
}
