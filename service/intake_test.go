package service

import (
	"context"
	"errors"
	"fmt"
	"os"
	"strings"
	"sync"
	"testing"

	"jardinet/layout"
	"jardinet/pdf"
)

func TestManyFilesAtOnce(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	data, err := os.ReadFile(documents + "visitor-incident-form.pdf")
	if err != nil {
		t.Fatal(err)
	}
	var wg sync.WaitGroup
	for i := range 24 {
		wg.Go(func() {
			// Bytes after the end of a PDF make another content of the same pages.
			content := string(data) + strings.Repeat("\n", i/2)
			if _, err := s.Add(context.Background(), "garden", fmt.Sprintf("form-%d.pdf", i/2), strings.NewReader(content)); err != nil {
				t.Error(err)
			}
		})
	}
	wg.Wait()
	docs := settle(t, s, "garden")
	if len(docs) != 12 {
		t.Errorf("24 files of 12 contents are %d documents", len(docs))
	}
	for name, d := range docs {
		if d.State != "ready" {
			t.Errorf("%s is %s: %s", name, d.State, d.Reason)
		}
	}
	c, err := s.Collection(t.Context(), "garden")
	if err != nil || c.Documents["ready"] != 12 || c.Pages != 12 {
		t.Errorf("the collection is %+v, error %v", c, err)
	}
}

func TestRemovedWhileItIsRead(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	events, cancel := s.Listen()
	defer cancel()
	added := add(t, s, "garden", "glasshouse-manual.pdf", "storm-damage-report.pdf")
	for e := range events {
		if e.Document != nil && e.Document.ID == added[0].ID && e.Document.PagesDone > 0 {
			break
		}
	}
	if _, err := s.Remove(t.Context(), "garden", added[0].ID, false); err != nil {
		t.Fatal(err)
	}
	docs := settle(t, s, "garden")
	if _, there := docs["glasshouse-manual.pdf"]; there || docs["storm-damage-report.pdf"].State != "ready" {
		t.Errorf("documents are %+v", docs)
	}
	c, err := s.named("garden")
	if err != nil {
		t.Fatal(err)
	}
	if c.index.Load().Has(added[0].ID) {
		t.Error("the removed document is in the index")
	}
	add(t, s, "garden", "glasshouse-manual.pdf")
	if docs := settle(t, s, "garden"); docs["glasshouse-manual.pdf"].State != "ready" || docs["glasshouse-manual.pdf"].ID != added[0].ID {
		t.Errorf("added again it is %+v", docs["glasshouse-manual.pdf"])
	}
}

func TestEventsTellTheStates(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	events, cancel := s.Listen()
	defer cancel()
	add(t, s, "garden", "staff-handbook.pdf")
	seen := map[string]bool{}
	done := 0
	for e := range events {
		if e.Collection != "garden" || e.Document == nil {
			t.Fatalf("event is %+v", e)
		}
		seen[e.Document.State] = true
		if e.Document.PagesDone < done && e.Document.State == "reading" {
			t.Errorf("pages done fall from %d to %d", done, e.Document.PagesDone)
		}
		done = e.Document.PagesDone
		if e.Document.State == "ready" {
			break
		}
	}
	for _, state := range []string{"queued", "reading", "indexing", "ready"} {
		if !seen[state] {
			t.Errorf("no event says %s; seen %v", state, seen)
		}
	}
}

func TestListenersThatDoNotKeepUp(t *testing.T) {
	b := newBroker()
	slow, cancel := b.listen()
	for range 5000 {
		b.send(Event{Collection: "c"}) // must not block
	}
	if len(slow) != cap(slow) {
		t.Errorf("%d of %d events wait", len(slow), cap(slow))
	}
	cancel()
	cancel() // twice does no harm
	b.close()
	if _, open := <-func() chan Event { ch, _ := b.listen(); return ch }(); open {
		t.Error("a closed broker hands out an open channel")
	}
}

func TestReasons(t *testing.T) {
	tests := []struct {
		err  error
		want string
	}{
		{pdf.ErrNotPDF, "Not a PDF"},
		{fmt.Errorf("open: %w", pdf.ErrPassword), "A password is needed"},
		{pdf.ErrSecurity, "encrypted"},
		{fmt.Errorf("%w: 300 MiB, the limit is 256 MiB", pdf.ErrTooLarge), "Too large: 300 MiB, the limit is 256 MiB. Split"},
		{fmt.Errorf("%w: it has no pages", pdf.ErrDamaged), "Damaged: it cannot be opened (it has no pages)"},
		{fmt.Errorf("%w on page 1: it is only a picture", errNoText), "No text on page 1"},
		{context.DeadlineExceeded, "takes too long"},
		{errors.New("disk on fire"), "disk on fire"},
	}
	for _, test := range tests {
		got := reasonFor(test.err)
		if !strings.Contains(got, test.want) || !strings.HasSuffix(got, ".") {
			t.Errorf("%v is worded %q, want %q in it", test.err, got, test.want)
		}
	}
}

func TestJudgePages(t *testing.T) {
	text := layout.Page{Blocks: []layout.Block{{Text: "words"}}}
	picture := layout.Page{Problem: "no text: the page is a picture"}
	broken := layout.Page{Problem: "page 3: the page cannot be read"}
	document := func(pages ...layout.Page) *layout.Document {
		for i := range pages {
			pages[i].Number = i + 1
		}
		return &layout.Document{Pages: pages}
	}
	if warning, err := judgePages(document(text, layout.Page{}, text)); warning != "" || err != nil {
		t.Errorf("a blank page between others gives %q, %v", warning, err)
	}
	if warning, err := judgePages(document(text, picture, picture, text)); err != nil || !strings.HasPrefix(warning, "No text on pages 2–3: they are only pictures") {
		t.Errorf("two pictures give %q, %v", warning, err)
	}
	if warning, err := judgePages(document(text, broken)); err != nil || warning != "Damaged, not read: page 2." {
		t.Errorf("a broken page gives %q, %v", warning, err)
	}
	if _, err := judgePages(document(picture, picture)); !errors.Is(err, errNoText) || !strings.Contains(err.Error(), "pages 1–2") {
		t.Errorf("pictures alone give %v", err)
	}
	if _, err := judgePages(document(broken)); !errors.Is(err, pdf.ErrDamaged) {
		t.Errorf("a document of broken pages gives %v", err)
	}
}

func TestCleanName(t *testing.T) {
	for name, want := range map[string]string{
		"a.pdf": "a.pdf", "/etc/passwd": "passwd", `C:\docs\b.pdf`: "b.pdf", "../../c.pdf": "c.pdf", "": "", "/": "", "d\x00\n.pdf": "d.pdf",
	} {
		if got := cleanName(name); got != want {
			t.Errorf("cleanName(%q) = %q, want %q", name, got, want)
		}
	}
}

func TestPagesAreKept(t *testing.T) {
	p := &layout.Page{Number: 3, Label: "iii", Width: 595, Height: 842, Language: "en", Blocks: []layout.Block{
		{Kind: layout.Heading, Level: 2, Text: "3.1 Tanks", Box: pdf.Rect{X0: 1, Y0: 2, X1: 3, Y1: 4}, Words: layout.Words{{Start: 0, End: 3}, {Start: 4, End: 9}}},
		{Kind: layout.Table, Text: "a | b", Rows: []layout.Row{{Header: true, Cells: []layout.Cell{{Column: 0, Start: 0, End: 1}}}}},
	}}
	data, err := encodePage(p)
	if err != nil {
		t.Fatal(err)
	}
	back, err := decodePage(data)
	if err != nil || back.Blocks[0].Text != "3.1 Tanks" || len(back.Blocks[0].Words) != 2 || !back.Blocks[1].Rows[0].Header || back.Label != "iii" {
		t.Errorf("the page comes back as %+v, error %v", back, err)
	}
	if _, err := decodePage(data[:len(data)-4]); err == nil {
		t.Error("a cut page was decoded")
	}
}
