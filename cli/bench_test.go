package cli

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"jardinet/api"
	"jardinet/measure"
)

// TestBench goes the way of a knowledge engineer from a file of questions to a set-up that is
// promoted, put back, and guarded.
func TestBench(t *testing.T) {
	start(t)
	run(t, 0, "collection", "create", "garden")
	run(t, 0, "add", documents+"seed-vault-manual.pdf", "--to", "garden", "--wait")
	dir := t.TempDir()
	file := filepath.Join(dir, "First.jsonl")
	os.WriteFile(file, []byte(`{"id":"a","question":"How long may seed stay out of the cold store?","answer":"Four hours","accept":["four hours"],"evidence":[{"document":"seed-vault-manual.pdf","page":4,"quote":"four hours"}],"tags":["lookup"]}
{"id":"b","question":"Who keeps the tigers?","answerable":false,"tags":["not said"]}
`), 0o644)

	out, _ := run(t, 0, "questions")
	contains(t, "no set yet", out, "questions import")
	out, _ = run(t, 0, "questions", "import", file)
	contains(t, "import", out, "first, version 1: 2 questions")
	out, _ = run(t, 0, "questions", "draft", "first", "-n", "3")
	contains(t, "draft", out, "version 2: 2 questions and 3 drafts")
	out, _ = run(t, 0, "questions", "show", "first", "--drafts")
	contains(t, "show", out, "(draft)", "(not said)", "Four hours")
	out, _ = run(t, 0, "questions", "accept", "first", "--all")
	contains(t, "accept", out, "version 3: 5 questions")
	run(t, 1, "questions", "accept", "first")
	run(t, 1, "questions", "accept", "first", "none")
	out, _ = run(t, 0, "questions", "review", "first")
	contains(t, "review", out, "seed-vault-manual.pdf", "TOUCHED")
	out, _ = run(t, 0, "questions", "export", "first", "--as", "qrels")
	contains(t, "qrels", out, "a 0 seed-vault-manual.pdf:4 1")
	topics, qrels := filepath.Join(dir, "t.txt"), filepath.Join(dir, "q.txt")
	run(t, 0, "questions", "export", "first", "--as", "topics", "--out", topics)
	run(t, 0, "questions", "export", "first", "--as", "qrels", "--out", qrels)
	out, _ = run(t, 0, "questions", "import", topics, "--qrels", qrels, "--to", "second")
	contains(t, "from TREC", out, "second, version 1: 5 questions")

	junit := filepath.Join(dir, "junit.xml")
	out, _ = run(t, 0, "measure", "first", "--tag", "lookup", "--require", "page_recall@5>=0.5", "--junit", junit)
	contains(t, "measure", out, "All held: 1 requirement", "1.000")
	if data, err := os.ReadFile(junit); err != nil || !strings.Contains(string(data), "page_recall@5&gt;=0.5") {
		t.Errorf("JUnit is %s, error %v", data, err)
	}
	_, errs := run(t, 1, "measure", "first", "--version-of-set", "1", "--require", "refusals_right<=0.5")
	contains(t, "what is not held", errs, "refusals right is 1.000")
	run(t, 1, "measure", "first", "--require", "colour>=1")
	run(t, 1, "measure", "first", "--no-worse")
	run(t, 1, "measure", file, "--split", "dev")

	out, _ = run(t, 0, "trial", "make", "short", "--target", "40", "--retrieval", "words", "--certain", "0.3", "--passages", "5")
	contains(t, "trial make", out, "40 words", "found by words", "5 read", "from 0.30")
	var before, after measure.Measurement
	runJSON(t, &before, "measure", "first")
	runJSON(t, &after, "measure", "first", "--trial", "short")
	if after.Subject.Setup != "short" || after.Subject.Certain != 0.3 {
		t.Errorf("measured on %+v", after.Subject)
	}
	out, _ = run(t, 0, "compare", before.ID, after.ID, "--rows")
	contains(t, "compare", out, "DIFFERENCE", "McNemar")
	out, _ = run(t, 0, "trial", "ask", "short", "How long may seed stay out of the cold store?")
	contains(t, "trial ask", out, "live", "short", "page 4")
	page := filepath.Join(dir, "report.html")
	out, _ = run(t, 0, "report", after.ID, "--against", before.ID, "--out", page)
	contains(t, "report", out, "Written to")
	out, _ = run(t, 0, "report", after.ID, "--as", "run")
	contains(t, "run file", out, "a Q0 seed-vault-manual.pdf:")
	out, _ = run(t, 0, "verdicts", after.ID)
	contains(t, "verdicts", out, "Nobody")

	out, _ = run(t, 0, "sweep", "first", "--target", "40,100", "--certain", "0.3,0.6", "--minutes", "5")
	contains(t, "sweep", out, "live", "On questions about documents", "AS THEY SHOULD")
	run(t, 1, "sweep")
	out, _ = run(t, 0, "trial", "promote", "short")
	contains(t, "promote", out, "short is live now")
	out, _ = run(t, 0, "trial")
	contains(t, "trial", out, "in use", "version 1", "found by words and meaning")
	out, _ = run(t, 0, "trial", "back", "1")
	contains(t, "back", out, "Live again: passages of 100 words")
	run(t, 1, "trial", "back", "77")

	out, _ = run(t, 0, "remeasure")
	contains(t, "no watch", out, "is not measured")
	out, _ = run(t, 0, "remeasure", "first", "--require", "page_recall@5>=0.5")
	contains(t, "watch", out, "after each change")
	var w api.Watch
	runJSON(t, &w, "remeasure", "--off")
	if !w.Off {
		t.Errorf("the watch is %+v", w)
	}
	run(t, 0, "measurements", after.ID, "--remove")
	run(t, 1, "measurements", after.ID)
	run(t, 0, "questions", "remove", "second")
	out, _ = run(t, 0, "questions", "remove", "first", "a", "b")
	contains(t, "remove", out, "3 questions")
}
