package demo

import (
	"io/fs"
	"os"
	"os/exec"
	"strings"
	"testing"

	"jardinet/measure"
	"jardinet/measure/questionset"
)

func set(t *testing.T) *measure.Set {
	t.Helper()
	data, err := os.ReadFile("questions.jsonl")
	if err != nil {
		t.Fatal(err)
	}
	s, err := measure.ReadSet("questions.jsonl", data)
	if err != nil {
		t.Fatal(err)
	}
	return s
}

// pages returns the text of a document by page, read by pdftotext and thus not
// by the reader that is being judged.
func pages(t *testing.T, document string) []string {
	t.Helper()
	out, err := exec.Command("pdftotext", "-layout", "documents/"+document, "-").Output()
	if err != nil {
		t.Fatalf("pdftotext %s: %v", document, err)
	}
	return strings.Split(strings.TrimSuffix(string(out), "\f"), "\f")
}

func TestDocuments(t *testing.T) {
	names, err := fs.Glob(Documents(), "*.pdf")
	if err != nil {
		t.Fatal(err)
	}
	n := 0
	for _, name := range names {
		n += len(pages(t, name))
	}
	if len(names) < 10 || n < 150 {
		t.Errorf("%d documents with %d pages; 10 with 150 are promised", len(names), n)
	}
	if n := len(pages(t, "glasshouse-manual.pdf")); n < 40 {
		t.Errorf("the glasshouse manual has %d pages", n)
	}
}

// TestLessonsStandOnTheirPages looks the words of each lesson up, white space aside.
func TestLessonsStandOnTheirPages(t *testing.T) {
	lessons, err := measure.ReadSet("lessons.jsonl", Lessons())
	if err != nil {
		t.Fatal(err)
	}
	squeeze := func(s string) string { return strings.Join(strings.Fields(s), "") }
	texts := map[string][]string{}
	for _, q := range lessons.Questions {
		for _, e := range q.Evidence {
			if texts[e.Document] == nil {
				texts[e.Document] = pages(t, e.Document)
			}
			if e.Page > len(texts[e.Document]) || !strings.Contains(squeeze(texts[e.Document][e.Page-1]), squeeze(e.Quote)) {
				t.Errorf("%s (%s): %q does not stand on page %d of %s", q.ID, q.Question, e.Quote, e.Page, e.Document)
			}
		}
	}
	if n := len(lessons.Questions); n < 10 || n > 50 {
		t.Errorf("%d lessons: a few show what teaching is, more would hide how well the documents are read", n)
	}
}

func TestQuestionsOfAllKinds(t *testing.T) {
	kinds := map[string]int{}
	for _, q := range set(t).Questions {
		kinds[q.Tags[0]]++
		if q.CanBeAnswered() == (q.Tags[0] == "unanswerable") {
			t.Errorf("%s is tagged %v", q.ID, q.Tags)
		}
		if (q.Tags[0] == "followup") != (len(q.After) > 0) {
			t.Errorf("%s is tagged %v and comes after %d questions", q.ID, q.Tags, len(q.After))
		}
	}
	total := 0
	for _, kind := range []string{"lookup", "paraphrase", "figure", "table", "procedure", "two", "followup", "edition", "unanswerable"} {
		if kinds[kind] < 5 {
			t.Errorf("only %d questions of kind %s", kinds[kind], kind)
		}
		total += kinds[kind]
	}
	if total < 100 || kinds["unanswerable"] < 20 {
		t.Errorf("%d questions, %d of them without an answer", total, kinds["unanswerable"])
	}
}

// TestEvidenceProves wants, on a page that is said to prove an answer, an
// accepted wording or most words of the expected answer.
func TestEvidenceProves(t *testing.T) {
	texts := map[string][]string{}
	page := func(e measure.Evidence) string {
		if texts[e.Document] == nil {
			texts[e.Document] = pages(t, e.Document)
		}
		if e.Page > len(texts[e.Document]) {
			t.Fatalf("%s has no page %d", e.Document, e.Page)
		}
		return texts[e.Document][e.Page-1]
	}
	for _, q := range set(t).Questions {
		if !q.CanBeAnswered() {
			continue
		}
		if len(q.Evidence) == 0 || len(q.Accept) == 0 {
			t.Errorf("%s has no evidence or nothing to accept", q.ID)
		}
		var all strings.Builder
		for _, e := range q.Evidence {
			for _, one := range append(e.All, e) {
				if one.Document != "" {
					all.WriteString(page(one) + "\n")
				}
			}
		}
		if !questionset.Bears(all.String(), &q) {
			t.Errorf("%s: neither %q nor the words of %q stand on its pages", q.ID, q.Accept, q.Answer)
		}
	}
}
