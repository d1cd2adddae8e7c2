package manuals

import (
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	garden "jardinet/demo"
	"jardinet/measure"
	"jardinet/measure/questionset"
)

func TestList(t *testing.T) {
	names := map[string]bool{}
	for _, m := range All() {
		if names[m.Name] || !strings.HasSuffix(m.Name, ".pdf") || len(m.SHA256) != 64 || m.Package == "" || strings.HasPrefix(m.Path, "/") {
			t.Errorf("entry %+v is not as it should be", m)
		}
		names[m.Name] = true
	}
	if len(names) < 12 {
		t.Errorf("%d manuals; 12 are promised", len(names))
	}
}

func TestUnpackAndCheck(t *testing.T) {
	dir := t.TempDir()
	var packed bytes.Buffer
	w := gzip.NewWriter(&packed)
	w.Write([]byte("%PDF-1.4 content"))
	w.Close()
	for name, data := range map[string][]byte{"a.pdf.gz": packed.Bytes(), "b.pdf": []byte("%PDF-1.4 content")} {
		from, to := filepath.Join(dir, name), filepath.Join(dir, "out-"+name)
		if err := os.WriteFile(from, data, 0o644); err != nil {
			t.Fatal(err)
		}
		if err := unpack(from, to); err != nil {
			t.Fatal(err)
		}
		sum := sha256.Sum256([]byte("%PDF-1.4 content"))
		if err := check(to, hex.EncodeToString(sum[:])); err != nil {
			t.Errorf("%s: %v", name, err)
		}
		if err := check(to, strings.Repeat("0", 64)); err == nil || !strings.Contains(err.Error(), "SHA-256") {
			t.Errorf("%s with another sum gives %v", name, err)
		}
	}
	if err := check(filepath.Join(dir, "none"), ""); err == nil {
		t.Error("a missing file is all right")
	}
}

// questions reads one half's question set.
func questions(t *testing.T, half string) []measure.Question {
	t.Helper()
	set, err := Questions("../questions", half)
	if err != nil {
		t.Fatal(err)
	}
	return set.Questions
}

// listed returns the pages that a question's evidence names.
func listed(q measure.Question) (out []measure.Evidence) {
	for _, e := range q.Evidence {
		if len(e.All) == 0 {
			out = append(out, e)
		}
		out = append(out, e.All...)
	}
	return out
}

// TestHalvesShareNoDocument keeps what is fitted on one half from being known
// by the other.
func TestHalvesShareNoDocument(t *testing.T) {
	seen := map[string]string{}
	for _, half := range []string{"train", "test"} {
		for _, q := range questions(t, half) {
			// The first is where the question was written; manuals of one
			// project repeat each other, so others may prove it too.
			for _, p := range listed(q)[:min(1, len(listed(q)))] {
				if other := seen[p.Document]; other != "" && other != half {
					t.Errorf("%s proves questions of both halves", p.Document)
				}
				seen[p.Document] = half
				if !slices.ContainsFunc(All(), func(m Manual) bool { return m.Name == p.Document }) {
					t.Errorf("%s: %s is no manual of the list", q.ID, p.Document)
				}
			}
		}
	}
}

// TestNoTrainingQuestionIsATestQuestion compares questions by their words of substance,
// those on the demo's documents too, of which both halves are about the same ones.
func TestNoTrainingQuestionIsATestQuestion(t *testing.T) {
	data, err := os.ReadFile("../../demo/questions.jsonl")
	if err != nil {
		t.Fatal(err)
	}
	demo, err := measure.ReadSet("questions.jsonl", data)
	if err != nil {
		t.Fatal(err)
	}
	tested := map[string]bool{}
	for _, q := range append(questions(t, "test"), demo.Questions...) {
		if !slices.Contains(q.Tags, "half:train") {
			tested[measure.Substance(q.Question)] = true
		}
	}
	lessons, err := measure.ReadSet("lessons.jsonl", garden.Lessons())
	if err != nil {
		t.Fatal(err)
	}
	for _, q := range slices.Concat(questions(t, "train"), questions(t, "demo"), lessons.Questions) {
		if tested[measure.Substance(q.Question)] && len(q.After) == 0 {
			t.Errorf("%s is a test question too: %s", q.ID, q.Question)
		}
	}
}

// TestAcceptedStandsOnAListedPage looks an accepted wording, or most words of
// the answer, up on the pages that are said to prove it. It needs the manuals.
func TestAcceptedStandsOnAListedPage(t *testing.T) {
	texts := map[string][]string{}
	for _, half := range []string{"train", "test"} {
		for _, q := range questions(t, half) {
			var pages strings.Builder
			for _, e := range listed(q) {
				path := filepath.Join("../cache/manuals", e.Document)
				if _, err := os.Stat(path); err != nil {
					t.Skip("the manuals are not here; go run ./bench/fetch brings them")
				}
				if texts[e.Document] == nil {
					raw, err := exec.Command("pdftotext", "-layout", path, "-").Output()
					if err != nil {
						t.Fatal(err)
					}
					texts[e.Document] = strings.Split(string(raw), "\f")
				}
				pages.WriteString(texts[e.Document][e.Page-1] + "\n")
			}
			if q.CanBeAnswered() && !questionset.Bears(pages.String(), &q) {
				encoded, _ := json.Marshal(q)
				t.Errorf("nothing accepted stands on a listed page: %s", encoded)
			}
		}
	}
}
