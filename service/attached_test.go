package service

import (
	"os"
	"strings"
	"testing"
)

// TestWhatAnAuthorSaysOfAFile takes in a tagged file with a link, a described picture and an attached table.
func TestWhatAnAuthorSaysOfAFile(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	data, err := os.ReadFile("../pdfium/testdata/tagged.pdf")
	if err != nil {
		t.Fatal(err)
	}
	addBytes(t, s, "garden", "shed.pdf", string(data))
	all := settle(t, s, "garden")
	if all["shed.pdf"].State != "ready" || all["shed - beds.csv"].State != "ready" {
		t.Fatalf("the documents are %+v", all)
	}
	page, err := s.Page(t.Context(), "garden", "shed.pdf", 1)
	if err != nil || len(page.Links) != 1 || page.Links[0].Target != "https://halvern.example/shed" || page.Links[0].Box.Page != 1 {
		t.Fatalf("the links are %+v: %v", page.Links, err)
	}
	html, err := s.Export(t.Context(), "garden", "shed.pdf", "html")
	if err != nil {
		t.Fatal(err)
	}
	for _, part := range []string{`<h2 data-box="`, `<a href="https://halvern.example/shed">The potting shed</a></h2>`, `">A plan of the shed</figcaption>`, `data-page="1"`} {
		if !strings.Contains(string(html), part) {
			t.Errorf("the page of the web lacks %q:\n%s", part, html)
		}
	}
	if _, err := s.Remove(t.Context(), "garden", "shed - beds.csv", false); err != nil {
		t.Fatal(err)
	}
	if err := s.ReadAgain(t.Context(), "garden", "shed.pdf"); err != nil {
		t.Fatal(err)
	}
	if d, back := settle(t, s, "garden")["shed - beds.csv"]; back && d.State != "removed" {
		t.Errorf("what was removed came back as %s", d.State)
	}
}

func TestTablesInHTML(t *testing.T) {
	s := stocked(t)
	html, err := s.Export(t.Context(), "garden", "seed-vault-manual.pdf", "html")
	if err != nil || !strings.Contains(string(html), "<tr><th>") || !strings.Contains(string(html), "<tr><td>") {
		t.Errorf("there is no table in the export: %v", err)
	}
}
