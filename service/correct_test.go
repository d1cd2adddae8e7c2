package service

import (
	"encoding/json"
	"errors"
	"os/exec"
	"strings"
	"testing"

	"jardinet/api"
	"jardinet/layout"
	"jardinet/passage"
)

// stocked is a service with the seed vault's manual in it.
func stocked(t *testing.T) *Service {
	t.Helper()
	s := open(t, t.TempDir())
	create(t, s, "garden")
	add(t, s, "garden", "seed-vault-manual.pdf")
	settle(t, s, "garden")
	return s
}

func correct(t *testing.T, s *Service, page int, edits ...layout.Edit) *Page {
	t.Helper()
	out, err := s.Correct(t.Context(), "garden", "seed-vault-manual.pdf", page, &layout.Corrections{Edits: edits})
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func blockWith(t *testing.T, p *Page, part string) PageBlock {
	t.Helper()
	for _, b := range p.Blocks {
		if strings.Contains(b.Text, part) {
			return b
		}
	}
	t.Fatalf("page %d has no block with %q", p.Number, part)
	return PageBlock{}
}

func TestCorrectionHoldsForAnswersAtOnceAndAfterReadingAnew(t *testing.T) {
	s := stocked(t)
	const question = "How long may seed stay out of the cold store?"
	page, err := s.Page(t.Context(), "garden", "seed-vault-manual.pdf", 4)
	if err != nil {
		t.Fatal(err)
	}
	rule := blockWith(t, page, "no longer than four hours")
	changed := correct(t, s, 4, layout.Edit{Was: rule.Was, Text: strings.ReplaceAll(rule.Text, "four hours", "eleven minutes")})
	if b := blockWith(t, changed, "eleven minutes"); !b.Corrected || b.Was != rule.Text {
		t.Errorf("the corrected block is %+v", b)
	}
	if got := ask(t, s, "garden", question); !strings.Contains(got.Text, "leven minutes") {
		t.Errorf("after the correction the answer is %q", got.Text)
	}
	if err := s.ReadAgain(t.Context(), "garden", "seed-vault-manual.pdf"); err != nil {
		t.Fatal(err)
	}
	if d := settle(t, s, "garden")["seed-vault-manual.pdf"]; d.State != "ready" {
		t.Fatalf("read again it is %s: %s", d.State, d.Reason)
	}
	if got := ask(t, s, "garden", question); !strings.Contains(got.Text, "leven minutes") {
		t.Errorf("read anew the answer is %q", got.Text)
	}
	correct(t, s, 4)
	if got := ask(t, s, "garden", question); !strings.Contains(strings.ToLower(got.Text), "four hours") {
		t.Errorf("with the correction forgotten the answer is %q", got.Text)
	}
}

func TestCorrectionsThatDoNotFit(t *testing.T) {
	s := stocked(t)
	for _, e := range []layout.Edit{{}, {Was: "no such block", Drop: true}, {Was: "x", Kind: "poem"}, {Was: "x"}, {Was: "x", To: -1}} {
		_, err := s.Correct(t.Context(), "garden", "seed-vault-manual.pdf", 4, &layout.Corrections{Edits: []layout.Edit{e}})
		if !errors.Is(err, ErrInvalid) {
			t.Errorf("%+v gives %v", e, err)
		}
	}
	if _, err := s.Correct(t.Context(), "garden", "seed-vault-manual.pdf", 99, &layout.Corrections{}); !errors.Is(err, ErrNotFound) {
		t.Errorf("page 99 gives %v", err)
	}
}

func TestWorstPagesComeFirst(t *testing.T) {
	s := stocked(t)
	add(t, s, "garden", "annual-report-2025.pdf", "storm-damage-report.pdf")
	settle(t, s, "garden")
	pages, of, err := s.WorstPages(t.Context(), "garden", "", 3)
	if err != nil || len(pages) == 0 || of < len(pages) {
		t.Fatalf("%d of %d pages, error %v", len(pages), of, err)
	}
	for i, p := range pages {
		if len(p.Findings) == 0 || i > 0 && p.Score < pages[i-1].Score {
			t.Errorf("page %d of the list is %+v", i, p)
		}
		for _, f := range p.Findings {
			if f.Text == "" || !strings.HasSuffix(f.Advice, ".") {
				t.Errorf("a finding says %+v", f)
			}
		}
	}
	if _, _, err := s.WorstPages(t.Context(), "garden", "none.pdf", 3); !errors.Is(err, ErrNotFound) {
		t.Errorf("a document that is not there gives %v", err)
	}
}

func TestExport(t *testing.T) {
	s := stocked(t)
	for format, part := range map[string]string{"markdown": "## 1.2 The rule of four hours", "text": "[page 4]", "json": `"kind": "heading"`} {
		data, err := s.Export(t.Context(), "garden", "seed-vault-manual.pdf", format)
		if err != nil || !strings.Contains(string(data), part) {
			t.Errorf("%s lacks %q, error %v", format, part, err)
		}
		if format == "json" {
			var doc struct {
				Pages []struct{ Blocks []struct{ Rows [][]string } }
			}
			if err := json.Unmarshal(data, &doc); err != nil || len(doc.Pages) != 20 {
				t.Errorf("the JSON has %d pages, error %v", len(doc.Pages), err)
			}
		}
	}
	if _, err := s.Export(t.Context(), "garden", "seed-vault-manual.pdf", "docx"); !errors.Is(err, ErrInvalid) {
		t.Errorf("an unknown format gives %v", err)
	}
}

func TestScanIsRecognised(t *testing.T) {
	if _, err := exec.LookPath("tesseract"); err != nil {
		t.Skip("tesseract-ocr is not installed")
	}
	s, err := Open(t.Context(), Options{Data: t.TempDir()})
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	create(t, s, "garden")
	add(t, s, "garden", "boiler-memo-scan.pdf")
	if d := settle(t, s, "garden")["boiler-memo-scan.pdf"]; d.State != "ready" {
		t.Fatalf("the scan is %s: %s", d.State, d.Reason)
	}
	page, err := s.Page(t.Context(), "garden", "boiler-memo-scan.pdf", 1)
	if err != nil || page.Recognised < 80 {
		t.Fatalf("recognised with %d %%, error %v", page.Recognised, err)
	}
	if b := blockWith(t, page, "Flue gas temperature 196 °C"); b.Box.X1-b.Box.X0 < 300 {
		t.Errorf("the paragraph stands at %+v", b.Box)
	}
	if got := ask(t, s, "garden", "What is the flue gas temperature of the boiler?"); !strings.Contains(got.Text, "196") {
		t.Errorf("the answer is %q", got.Text)
	}
}

func TestReindex(t *testing.T) {
	s := stocked(t)
	before := settle(t, s, "garden")["seed-vault-manual.pdf"].Passages
	recipe := api.DefaultRecipe
	recipe.Passage.Cut = passage.ByPage
	if err := s.Reindex(t.Context(), "garden", recipe); err != nil {
		t.Fatal(err)
	}
	if after := settle(t, s, "garden")["seed-vault-manual.pdf"].Passages; after >= before || after > 20 {
		t.Errorf("%d passages, before %d", after, before)
	}
	if got := ask(t, s, "garden", "How long may seed stay out of the cold store?"); !strings.Contains(strings.ToLower(got.Text), "four hours") {
		t.Errorf("the answer is %q", got.Text)
	}
	c, err := s.Collection(t.Context(), "garden")
	if err != nil || c.Recipe.Passage.Cut != passage.ByPage || c.Recipe.Version != 2 {
		t.Errorf("the collection is %+v, error %v", c, err)
	}
	recipe.Passage.Cut = "chapter"
	if err := s.Reindex(t.Context(), "garden", recipe); !errors.Is(err, ErrInvalid) {
		t.Errorf("an unknown cut gives %v", err)
	}
}
