package backup

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"os"
	"path/filepath"
	"testing"
)

// data makes a data directory with records and some originals, and returns their hashes.
func data(t *testing.T, records string, contents ...string) (dir string, sums []string) {
	t.Helper()
	dir = t.TempDir()
	put := func(name, content string) {
		if err := os.MkdirAll(filepath.Dir(filepath.Join(dir, name)), 0o700); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(filepath.Join(dir, name), []byte(content), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	put(Records, records)
	for _, c := range contents {
		sum := sha256.Sum256([]byte(c))
		sums = append(sums, hex.EncodeToString(sum[:]))
		put("files/"+sums[len(sums)-1], c)
	}
	return dir, sums
}

func write(t *testing.T, dir string, have map[string]bool) string {
	t.Helper()
	var b bytes.Buffer
	if err := Write(&b, dir, "test", have); err != nil {
		t.Fatal(err)
	}
	path := filepath.Join(t.TempDir(), "b.tar")
	if err := os.WriteFile(path, b.Bytes(), 0o600); err != nil {
		t.Fatal(err)
	}
	return path
}

func TestRestore(t *testing.T) {
	dir, sums := data(t, "records", "one", "two")
	archive := write(t, dir, nil)
	if m, err := Verify(archive); err != nil || len(m.Files) != 3 || len(m.Hashes()) != 2 {
		t.Fatalf("verified %+v, %v", m, err)
	}
	into := filepath.Join(t.TempDir(), "new")
	if _, err := Restore(into, archive); err != nil {
		t.Fatal(err)
	}
	for name, want := range map[string]string{Records: "records", "files/" + sums[0]: "one", "files/" + sums[1]: "two"} {
		if got, err := os.ReadFile(filepath.Join(into, name)); err != nil || string(got) != want {
			t.Errorf("%s is %q, %v", name, got, err)
		}
	}
	if _, err := Restore(into, archive); err == nil {
		t.Error("what is there is overwritten")
	}
}

func TestIncremental(t *testing.T) {
	dir, _ := data(t, "records", "one", "two")
	first := write(t, dir, nil)
	m, err := ReadManifest(first)
	if err != nil {
		t.Fatal(err)
	}
	have := map[string]bool{}
	for _, sum := range m.Hashes() {
		have[sum] = true
	}
	later, sums := data(t, "later records", "two", "three")
	second := write(t, later, have)
	if _, err := Verify(second); !errors.Is(err, ErrBroken) {
		t.Errorf("without the first: %v", err)
	}
	into := filepath.Join(t.TempDir(), "new")
	if _, err := Restore(into, second, first); err != nil {
		t.Fatal(err)
	}
	if entries, _ := os.ReadDir(filepath.Join(into, "files")); len(entries) != 2 {
		t.Errorf("restored %v, want %v", entries, sums)
	}
	if got, _ := os.ReadFile(filepath.Join(into, Records)); string(got) != "later records" {
		t.Errorf("the records are %q", got)
	}
}

// TestBrokenBackups flips each byte of an archive and cuts it at every length.
func TestBrokenBackups(t *testing.T) {
	dir, _ := data(t, "records", "one")
	archive := write(t, dir, nil)
	whole, err := os.ReadFile(archive)
	if err != nil {
		t.Fatal(err)
	}
	into := filepath.Join(t.TempDir(), "new")
	try := func(what string, at int, data []byte) {
		if err := os.WriteFile(archive, data, 0o600); err != nil {
			t.Fatal(err)
		}
		if _, err := Restore(into, archive); err == nil {
			for name, want := range map[string]string{Records: "records"} {
				if got, _ := os.ReadFile(filepath.Join(into, name)); string(got) != want {
					t.Errorf("%s at %d: restored %q without a word", what, at, got)
				}
			}
			os.RemoveAll(into)
		} else if _, err := os.Stat(into); err == nil {
			t.Errorf("%s at %d: something is left behind", what, at)
		}
	}
	for at := 0; at < len(whole); at += 97 {
		flipped := bytes.Clone(whole)
		flipped[at] ^= 1
		try("flipped", at, flipped)
		try("cut", at, whole[:at])
	}
}
