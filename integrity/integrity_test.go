package integrity

import (
	"bytes"
	"os"
	"path/filepath"
	"testing"
)

func demo(t *testing.T) map[string][]byte {
	t.Helper()
	paths, err := filepath.Glob("../demo/documents/*.pdf")
	if err != nil || len(paths) == 0 {
		t.Fatal("no documents", err)
	}
	out := map[string][]byte{}
	for _, path := range paths {
		if out[filepath.Base(path)], err = os.ReadFile(path); err != nil {
			t.Fatal(err)
		}
	}
	return out
}

func TestSoundFiles(t *testing.T) {
	for name, data := range demo(t) {
		if r := Of(data); !r.Sound() || r.String() != "" {
			t.Errorf("%s: %+v: %s", name, r, r)
		}
	}
}

// TestDamageShows flips a bit in the middle of each compressed stream, and cuts files off.
func TestDamageShows(t *testing.T) {
	for name, data := range demo(t) {
		cut := Of(data[:len(data)*2/3])
		if cut.Sound() || !cut.EndMissing {
			t.Errorf("%s, cut off: %+v", name, cut)
		}
		table := readTable(data, data[max(0, len(data)-2048):])
		if table == nil {
			t.Fatalf("%s has no table", name)
		}
		tried := 0
		for number, at := range table.offsets {
			o, ok := objectAt(data, at, number)
			packed, _ := o.bytes(data, table)
			if !ok || o.start == 0 || picture.Match(o.dict) || !deflated.Match(o.dict) || len(packed) < 40 || tried == 5 {
				continue
			}
			tried++
			damaged := bytes.Clone(data)
			damaged[o.start+len(packed)/2] ^= 1
			if r := Of(damaged); r.Streams == 0 {
				t.Errorf("%s, object %d with a flipped bit: %+v", name, number, r)
			}
		}
		if tried == 0 {
			t.Errorf("%s has no compressed stream", name)
		}
	}
}

func TestMovedObjects(t *testing.T) {
	for name, data := range demo(t) {
		at := bytes.Index(data, []byte("endobj\n")) + len("endobj\n")
		moved := append(append(bytes.Clone(data[:at]), "% two more lines\n%\n"...), data[at:]...)
		if r := Of(moved); r.Sound() {
			t.Errorf("%s with something put in between is sound", name)
		}
	}
}

func TestNonsense(t *testing.T) {
	for _, s := range []string{
		"", "%PDF-1.4", "startxref 99999999999999999999 %%EOF", "%PDF-1.4\nxref\n0 9999999\ntrailer\nstartxref\n9\n%%EOF",
		"%PDF-1.4\n1 0 obj<</Type/XRef/W[1 2 1]/Length 2 0 R>>stream\nx\nendstream endobj\nstartxref\n9\n%%EOF",
		"%PDF-1.4\nxref\n0 1\n0000000000 65535 f \ntrailer<</Prev 9>>startxref\n9\n%%EOF",
	} {
		Of([]byte(s)) // comes to an end
	}
}
