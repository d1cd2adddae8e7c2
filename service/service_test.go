package service

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/measure"
	"jardinet/modelapi"
	"jardinet/pdfium"
)

func TestMain(m *testing.M) {
	pdfium.ServeReader()
	os.Exit(m.Run())
}

const documents = "../demo/documents/"

func open(t *testing.T, dir string) *Service {
	t.Helper()
	s, err := Open(t.Context(), Options{Data: dir, Version: "test", Scripts: []string{"none"}, Outside: &modelapi.Policy{Hosts: []string{"127.0.0.1"}}, PDF: pdfium.Options{FileSize: 4 << 20}})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s
}

// adder returns a function that adds a file of the demo to the garden under another name and
// waits until it is in.
func adder(t *testing.T, s *Service) func(name, file string) {
	return func(name, file string) {
		t.Helper()
		f, err := os.Open(documents + "/" + file)
		if err != nil {
			t.Fatal(err)
		}
		defer f.Close()
		if _, err := s.Add(t.Context(), "garden", name, f); err != nil {
			t.Fatal(err)
		}
		settle(t, s, "garden")
	}
}

func create(t *testing.T, s *Service, name string) {
	t.Helper()
	if _, err := s.CreateCollection(t.Context(), name, nil); err != nil {
		t.Fatal(err)
	}
}

func add(t *testing.T, s *Service, collection string, names ...string) []Document {
	t.Helper()
	var out []Document
	for _, name := range names {
		data, err := os.ReadFile(documents + name)
		if err != nil {
			t.Fatal(err)
		}
		out = append(out, addBytes(t, s, collection, name, string(data)).Document)
	}
	return out
}

func addBytes(t *testing.T, s *Service, collection, name, content string) *Added {
	t.Helper()
	added, err := s.Add(t.Context(), collection, name, strings.NewReader(content))
	if err != nil {
		t.Fatal(err)
	}
	return added
}

// settle waits until nothing is under way and returns the documents by name.
func settle(t *testing.T, s *Service, collection string) map[string]Document {
	t.Helper()
	docs, err := s.Settle(t.Context(), collection)
	if err != nil {
		t.Fatal(err)
	}
	out := map[string]Document{}
	for _, d := range docs {
		out[d.Name] = d
	}
	return out
}

func ask(t *testing.T, s *Service, collection, question string) *answer.Answer {
	t.Helper()
	got, err := s.Ask(t.Context(), collection, Ask{Question: question}, Listener{})
	if err != nil {
		t.Fatal(err)
	}
	return got
}

func TestFromFileToAnswer(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	added := add(t, s, "garden", "seed-vault-manual.pdf", "storm-damage-report.pdf")
	for _, d := range added {
		if d.State != "queued" && d.State != "reading" {
			t.Errorf("%s is %s as soon as it is handed in", d.Name, d.State)
		}
	}
	docs := settle(t, s, "garden")
	vault := docs["seed-vault-manual.pdf"]
	if vault.State != "ready" || vault.Pages != 20 || vault.PagesDone != 20 || vault.Passages < 20 || vault.Title != "Seed Vault Manual" || vault.Language != "en" {
		t.Errorf("the manual is %+v", vault)
	}
	got := ask(t, s, "garden", "How long may seed stay out of the cold store?")
	if !strings.Contains(strings.ToLower(got.Headline()), "four hours") || got.Citations[0].Document != "seed-vault-manual.pdf" || len(got.Citations[0].Boxes) == 0 {
		t.Fatalf("the answer is %+v", got)
	}
	c := got.Citations[0]
	page, err := s.Page(t.Context(), "garden", c.Document, c.Page)
	if err != nil {
		t.Fatal(err)
	}
	found := false
	for _, b := range page.Blocks {
		box := c.Boxes[0]
		if strings.Contains(b.Text, "no longer than four hours") {
			found = box.X0 >= b.Box.X0-1 && box.Y0 >= b.Box.Y0-1 && box.X1 <= b.Box.X1+1 && box.Y1 <= b.Box.Y1+1
		}
	}
	if !found {
		t.Errorf("the cited box %+v does not lie in the block that says it", c.Boxes[0])
	}
	picture, err := s.Picture(t.Context(), "garden", c.Document, c.Page, 50)
	if err != nil || !strings.HasPrefix(string(picture), "\x89PNG") {
		t.Errorf("the page's picture has %d bytes, error %v", len(picture), err)
	}
	hits, err := s.Find(t.Context(), "garden", "highest gust", 3, Scope{})
	if err != nil || len(hits) == 0 || hits[0].Document != "storm-damage-report.pdf" || hits[0].Rank != 1 {
		t.Errorf("found %+v, error %v", hits, err)
	}
}

func TestSameContentAndNewVersion(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	old, err := os.ReadFile(documents + "quarantine-policy-2021.pdf")
	if err != nil {
		t.Fatal(err)
	}
	newer, err := os.ReadFile(documents + "quarantine-policy-2024.pdf")
	if err != nil {
		t.Fatal(err)
	}
	first := addBytes(t, s, "garden", "policy.pdf", string(old))
	settle(t, s, "garden")
	if again := addBytes(t, s, "garden", "copy.pdf", string(old)); !again.Duplicate || again.Document.ID != first.Document.ID {
		t.Errorf("the same content again is %+v", again)
	}
	const question = "How long is the quarantine of woody plants with roots?"
	if got := ask(t, s, "garden", question); !strings.Contains(got.Headline(), "90 days") {
		t.Errorf("the old policy says %q", got.Text)
	}
	addBytes(t, s, "garden", "policy.pdf", string(newer))
	docs := settle(t, s, "garden")
	if got := ask(t, s, "garden", question); !strings.Contains(got.Headline(), "180 days") {
		t.Errorf("the new policy says %q", got.Text)
	}
	if len(docs) != 1 || docs["policy.pdf"].ID == first.Document.ID {
		t.Errorf("documents are %+v", docs)
	}
	was, err := s.Document(t.Context(), "garden", first.Document.ID)
	if err != nil || was.State != "replaced" {
		t.Errorf("the old version is %+v, error %v", was, err)
	}
	if _, err := s.Page(t.Context(), "garden", first.Document.ID, 3); err != nil {
		t.Errorf("a page of the old version cannot be read: %v", err)
	}
}

func TestRemoveDocument(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	add(t, s, "garden", "storm-damage-report.pdf")
	settle(t, s, "garden")
	if _, err := s.Remove(t.Context(), "garden", "storm-damage-report.pdf", false); err != nil {
		t.Fatal(err)
	}
	if got := ask(t, s, "garden", "What was the highest gust?"); got.State != answer.NotFound || len(got.Nearest) != 0 {
		t.Errorf("a removed document still answers: %+v", got)
	}
	if _, err := s.Remove(t.Context(), "garden", "storm-damage-report.pdf", false); !errors.Is(err, ErrNotFound) {
		t.Errorf("removing it twice gives %v", err)
	}
}

// encrypted is a PDF that asks for a password that nobody knows.
const encrypted = `%PDF-1.4
1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj
2 0 obj<</Type/Pages/Kids[3 0 R]/Count 1>>endobj
3 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 200 200]>>endobj
4 0 obj<</Filter/Standard/V 1/R 2/Length 40/P -4/O<28BF4E5E4E758A4164004E56FFFA01082E2E00B6D0683E802F0CA9FE6453697A>/U<0000000000000000000000000000000000000000000000000000000000000000>>>endobj
trailer<</Root 1 0 R/Encrypt 4 0 R/ID[<00112233445566778899AABBCCDDEEFF><00112233445566778899AABBCCDDEEFF>]>>
`

func TestBadFilesFailAloneWithAReason(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	good, err := os.ReadFile(documents + "visitor-incident-form.pdf")
	if err != nil {
		t.Fatal(err)
	}
	onePage := "%%PDF-1.4\n1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj 2 0 obj<</Type/Pages/Kids[3 0 R]/Count 1>>endobj 3 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 %s]%s>>endobj\ntrailer<</Root 1 0 R>>"
	tests := []struct{ name, content, reason string }{
		{"header.pdf", "%PDF-1.7\n", "Damaged"},
		{"half.pdf", string(good[:len(good)/10]), "Damaged"},
		{"noise.pdf", "%PDF-1.4\n" + strings.Repeat("\x00\xff\x13obj<<", 4000), "Damaged"},
		{"no-pages.pdf", "%PDF-1.4\n1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj 2 0 obj<</Type/Pages/Kids[]/Count 0>>endobj\ntrailer<</Root 1 0 R>>", "Damaged"},
		{"locked.pdf", encrypted, "A password is needed"},
		{"blank.pdf", fmt.Sprintf(onePage, "200 200", ""), "Nothing to read on page 1"},
		{"loop.pdf", fmt.Sprintf(onePage, "200 200", "/Contents 3 0 R/Resources 3 0 R"), "Nothing to read on page 1"},
		{"huge.pdf", fmt.Sprintf(onePage, "9e30 9e30", ""), "Nothing to read on page 1"},
	}
	for _, test := range tests {
		addBytes(t, s, "garden", test.name, test.content)
	}
	add(t, s, "garden", "boiler-memo-scan.pdf", "visitor-incident-form.pdf")
	docs := settle(t, s, "garden")
	for _, test := range tests {
		if d := docs[test.name]; d.State != "failed" || !strings.HasPrefix(d.Reason, test.reason) || !strings.HasSuffix(d.Reason, ".") {
			t.Errorf("%s is %s: %q, want %q", test.name, d.State, d.Reason, test.reason)
		}
	}
	if d := docs["boiler-memo-scan.pdf"]; d.State != "failed" || !strings.Contains(d.Reason, "only a picture") {
		t.Errorf("the scan is %s: %q", d.State, d.Reason)
	}
	if d := docs["visitor-incident-form.pdf"]; d.State != "ready" {
		t.Errorf("the good file is %s: %q", d.State, d.Reason)
	}
	if _, err := s.Add(t.Context(), "garden", "big.pdf", strings.NewReader("%PDF-1.4"+strings.Repeat(" ", 5<<20))); !errors.Is(err, ErrInvalid) {
		t.Errorf("a file over the limit gives %v", err)
	}
}

func TestStoppedIntakeGoesOn(t *testing.T) {
	dir := t.TempDir()
	s, err := Open(t.Context(), Options{Data: dir})
	if err != nil {
		t.Fatal(err)
	}
	create(t, s, "garden")
	add(t, s, "garden", "glasshouse-manual.pdf", "railway-rule-book.pdf", "staff-handbook.pdf")
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	docs := settle(t, open(t, dir), "garden")
	for name, d := range docs {
		if d.State != "ready" {
			t.Errorf("%s is %s: %s", name, d.State, d.Reason)
		}
	}
	if len(docs) != 3 {
		t.Errorf("%d documents of three are left", len(docs))
	}
}

func TestLostIndexIsMadeAnew(t *testing.T) {
	for _, harm := range []struct {
		name string
		do   func(dir string) error
	}{
		{"removed", os.RemoveAll},
		{"damaged", func(dir string) error { return os.WriteFile(filepath.Join(dir, "manifest.json"), []byte("{"), 0o644) }},
	} {
		t.Run(harm.name, func(t *testing.T) {
			dir := t.TempDir()
			s, err := Open(t.Context(), Options{Data: dir})
			if err != nil {
				t.Fatal(err)
			}
			create(t, s, "garden")
			add(t, s, "garden", "seed-vault-manual.pdf")
			settle(t, s, "garden")
			before := ask(t, s, "garden", "How many requests did the vault answer?")
			c, err := s.named("garden")
			if err != nil {
				t.Fatal(err)
			}
			if err := s.Close(); err != nil {
				t.Fatal(err)
			}
			if err := harm.do(s.indexDir(c.ID)); err != nil {
				t.Fatal(err)
			}
			after := ask(t, open(t, dir), "garden", "How many requests did the vault answer?")
			if before.Text != after.Text || before.Confidence != after.Confidence || after.State == answer.NotFound {
				t.Errorf("before %q, after %q", before.Text, after.Text)
			}
		})
	}
}

func TestMeasure(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	add(t, s, "garden", "seed-vault-manual.pdf")
	settle(t, s, "garden")
	set, err := measure.ReadSet("q.jsonl", []byte(`{"id":"a","question":"How long may seed stay out of the cold store?","accept":["four hours"],"evidence":[{"document":"seed-vault-manual.pdf","page":4}]}
{"id":"b","question":"How many tigers are there?","answerable":false}`))
	if err != nil {
		t.Fatal(err)
	}
	m, err := s.Measure(t.Context(), "garden", set)
	if err != nil {
		t.Fatal(err)
	}
	if m.Records[0].Outcome != measure.Right || m.Records[0].Rank == 0 || m.Records[1].Outcome != measure.Right || m.Subject.Documents != 1 {
		t.Errorf("records are %+v", m.Records)
	}

	// What is measured is what readers get.
	if err := s.SetStyle(t.Context(), "garden", &answer.Style{Certain: 1}); err != nil {
		t.Fatal(err)
	}
	if m, err = s.Measure(t.Context(), "garden", set); err != nil || m.Records[0].Outcome != measure.Refused {
		t.Errorf("with the style that refuses all, records are %+v, error %v", m.Records, err)
	}
}

func TestBadRequests(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	ctx := context.Background()
	invalid := []error{
		func() error { _, err := s.CreateCollection(ctx, "No Spaces", nil); return err }(),
		func() error {
			r := api.DefaultRecipe
			r.Passage.Target = 3
			_, err := s.CreateCollection(ctx, "b", &r)
			return err
		}(),
		func() error { _, err := s.Ask(ctx, "garden", Ask{Question: "  "}, Listener{}); return err }(),
		func() error {
			_, err := s.Ask(ctx, "garden", Ask{Question: strings.Repeat("x", MaxQuestion+1)}, Listener{})
			return err
		}(),
		func() error { _, err := s.Find(ctx, "garden", "x", 0, Scope{}); return err }(),
		func() error { _, err := s.Picture(ctx, "garden", "x.pdf", 1, 9000); return err }(),
		func() error { _, err := s.Add(ctx, "garden", "/", strings.NewReader("x")); return err }(),
	}
	for i, err := range invalid {
		if !errors.Is(err, ErrInvalid) {
			t.Errorf("request %d gives %v", i, err)
		}
	}
	if _, err := s.CreateCollection(ctx, "garden", nil); !errors.Is(err, ErrExists) {
		t.Errorf("a second collection gives %v", err)
	}
	if _, err := s.Ask(ctx, "nowhere", Ask{Question: "x"}, Listener{}); !errors.Is(err, ErrNotFound) {
		t.Errorf("an unknown collection gives %v", err)
	}
}

func TestRemoveCollection(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	create(t, s, "garden")
	add(t, s, "garden", "visitor-incident-form.pdf")
	settle(t, s, "garden")
	if err := s.RemoveCollection(t.Context(), "garden"); err != nil {
		t.Fatal(err)
	}
	for _, sub := range []string{"files", "index"} {
		if left, _ := os.ReadDir(filepath.Join(dir, sub)); len(left) != 0 {
			t.Errorf("%d entries are left in %s", len(left), sub)
		}
	}
	create(t, s, "garden")
	if c, err := s.Collection(t.Context(), "garden"); err != nil || c.Passages != 0 {
		t.Errorf("the new collection is %+v, error %v", c, err)
	}
}

func TestPageRange(t *testing.T) {
	for want, pages := range map[string][]int{"page 4": {4}, "pages 3–5": {3, 4, 5}, "pages 1, 3–5 and 9": {1, 3, 4, 5, 9}, "pages 2 and 7": {2, 7}} {
		if got := pageRange(pages); got != want {
			t.Errorf("%v is worded %q, want %q", pages, got, want)
		}
	}
}
