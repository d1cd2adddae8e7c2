package cli

import (
	"os"
	"path/filepath"
	"testing"
)

// TestSources watches a folder, gives fields and asks by them, in one collection and in all.
func TestSources(t *testing.T) {
	s := start(t)
	run(t, 0, "collection", "create", "garden")
	dir := t.TempDir()
	if err := os.WriteFile(filepath.Join(dir, "ponds.txt"), []byte("The lily pond is drained in March."), 0o644); err != nil {
		t.Fatal(err)
	}
	out, _ := run(t, 0, "watch", dir, "--to", "garden")
	contains(t, "the source", out, "folder", dir)
	for ready := false; !ready; {
		docs, err := s.Settle(t.Context(), "garden")
		if err != nil {
			t.Fatal(err)
		}
		ready = len(docs) == 1 // the folder is looked at twice before anything is taken
	}
	run(t, 0, "fields", "ponds.txt", "department=water", "--in", "garden")
	out, _ = run(t, 0, "ask", "When is the lily pond drained?", "--in", "garden", "--where", "department=Water")
	contains(t, "the answer", out, "March", "ponds.txt")
	out, _ = run(t, 0, "ask", "When is the lily pond drained?", "--in", "garden", "--where", "department=staff")
	contains(t, "elsewhere", out, "do not")
	csv := filepath.Join(dir, "fields.csv")
	if err := os.WriteFile(csv, []byte("document,year\nponds.txt,2025\nnone.txt,2024\n"), 0o644); err != nil {
		t.Fatal(err)
	}
	out, errs := run(t, 1, "fields", csv, "--in", "garden")
	contains(t, "what is given", out, "1 document given")
	contains(t, "what is not there", errs, "none.txt")
	out, _ = run(t, 0, "ask", "When is the lily pond drained?", "--everywhere")
	contains(t, "all collections", out, "garden", "March")
	out, _ = run(t, 0, "sources", "--in", "garden")
	contains(t, "the sources", out, dir)
	_, errs = run(t, 1, "add", "http://elsewhere.example/x.pdf", "--to", "garden")
	contains(t, "another host", errs, "--fetch-host")
	_, errs = run(t, 1, "unlock", "ponds.txt", "--in", "garden")
	contains(t, "no password", errs, "standard input")
}
