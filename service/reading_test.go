package service

import (
	"os"
	"slices"
	"strings"
	"testing"

	"jardinet/api"
	"jardinet/demo"
	"jardinet/measure"
	"jardinet/rank"
)

// loaded opens a service with all of the demo's documents.
func loaded(t *testing.T) *Service {
	t.Helper()
	s := open(t, t.TempDir())
	create(t, s, "garden")
	entries, err := os.ReadDir(documents)
	if err != nil {
		t.Fatal(err)
	}
	for _, e := range entries {
		if strings.HasSuffix(e.Name(), ".pdf") {
			add(t, s, "garden", e.Name())
		}
	}
	settle(t, s, "garden")
	return s
}

func page(t *testing.T, s *Service, document string, number int) *Page {
	t.Helper()
	p, err := s.Page(t.Context(), "garden", document, number)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// has tells whether a page has a block of a kind that contains text.
func has(p *Page, kind, text string) bool {
	return slices.ContainsFunc(p.Blocks, func(b PageBlock) bool { return b.Kind == kind && strings.Contains(b.Text, text) })
}

func TestWhatIsReadOfTheDemo(t *testing.T) {
	s := loaded(t)
	tests := []struct {
		document string
		page     int
		kind     string
		text     string
	}{
		{"glasshouse-manual.pdf", 8, "heading", "2.2 Set points of all houses"},
		{"glasshouse-manual.pdf", 8, "table", "Dew House | 15 to 19 | 12 | 90 to 98 | 21 | 80"},
		{"glasshouse-manual.pdf", 8, "furniture", "Issue 7 · March 2026"},
		{"glasshouse-manual.pdf", 3, "contents", "2.2 Set points of all houses"},
		{"water-quality-report.pdf", 1, "paragraph", "at most 2.4 × 10⁶ cells/ml"},
		{"water-quality-report.pdf", 1, "paragraph", "8,940 m³"},
		{"quarantine-policy-2024.pdf", 4, "table", "Woody plants with roots | 180 days"},
		{"annual-report-2025.pdf", 3, "paragraph", "We counted 412,600 visitors, 6.3 per cent more than in 2024."},
		{"storm-damage-report.pdf", 4, "caption", "Figure 1. Gusts at the weather mast"},
		{"railway-rule-book.pdf", 9, "heading", "Rule"},
		{"informations-visiteurs.pdf", 1, "paragraph", "Les serres ouvrent à 10 heures"},
	}
	for _, test := range tests {
		if !has(page(t, s, test.document, test.page), test.kind, test.text) {
			var all []string
			for _, b := range page(t, s, test.document, test.page).Blocks {
				all = append(all, b.Kind+": "+b.Text)
			}
			t.Errorf("%s, page %d has no %s with %q; it has\n%s", test.document, test.page, test.kind, test.text, strings.Join(all, "\n"))
		}
	}
	if p := page(t, s, "glasshouse-manual.pdf", 3); p.Label != "iii" {
		t.Errorf("page 3 of the manual is printed %q, want iii", p.Label)
	}
	if p := page(t, s, "glasshouse-manual.pdf", 8); p.Label != "3" {
		t.Errorf("page 8 of the manual is printed %q, want 3", p.Label)
	}
	if p := page(t, s, "informations-visiteurs.pdf", 3); p.Language != "fr" {
		t.Errorf("the French page is taken for %s", p.Language)
	}
}

// TestColumnsAreReadDown wants the left column of the annual report before the
// right one, and no sentence that jumps between them.
func TestColumnsAreReadDown(t *testing.T) {
	s := loaded(t)
	var text []string
	for _, b := range page(t, s, "annual-report-2025.pdf", 3).Blocks {
		text = append(text, b.Text)
	}
	all := strings.Join(text, "\n")
	last := -1
	for _, part := range []string{
		"The year began with the worst night", "We counted 412,600 visitors", "The Trustees met six times", "Two Trustees left us",
		"Our Director, Dr Maren Oduya", "I thank the 146 members of staff",
	} {
		at := strings.Index(all, part)
		if at <= last {
			t.Errorf("%q stands at %d, after %d", part, at, last)
		}
		last = at
	}
}

// TestFurnitureIsOut wants no running header or footer in any passage.
func TestFurnitureIsOut(t *testing.T) {
	s := loaded(t)
	for _, query := range []string{"Halvern Garden Railway Rule Book", "Rules in force from 1 April 2025", "Issue 7 March 2026"} {
		found, err := s.Find(t.Context(), "garden", query, 30, Scope{})
		if err != nil {
			t.Fatal(err)
		}
		for _, f := range found {
			for _, furniture := range []string{"Halvern Garden Railway · Rule Book", "Issue 7 · March 2026", "Third edition, October 2025\n"} {
				if strings.Contains(f.Text, furniture) {
					t.Errorf("%s, page %v: a passage holds the running line %q", f.Document, f.Pages, furniture)
				}
			}
		}
	}
}

// TestDemoDoesNotGetWorse holds the figures of the README, with some room: the
// day one of them falls is the day to look.
func TestDemoDoesNotGetWorse(t *testing.T) {
	s := loaded(t)
	data, err := os.ReadFile("../demo/questions.jsonl")
	if err != nil {
		t.Fatal(err)
	}
	set, err := measure.ReadSet("questions.jsonl", data)
	if err != nil {
		t.Fatal(err)
	}
	m, err := s.Measure(t.Context(), "garden", set)
	if err != nil {
		t.Fatal(err)
	}
	least := map[string]float64{measure.Recall5: 0.95, measure.MRR10: 0.87, measure.Accepted: 0.55, measure.Precision: 0.86, measure.RefusedWell: 0.88}
	for _, f := range m.Figures {
		if f.Value < least[f.Name] {
			t.Errorf("%s is %.3f, it was above %.2f", f.Name, f.Value, least[f.Name])
		}
		if f.Name == measure.RefusedBad && f.Value > 0.34 {
			t.Errorf("%s is %.3f, it was below 0.34", f.Name, f.Value)
		}
	}
	for _, r := range m.Records {
		if r.State != "not_found" && len(r.Citations) == 0 {
			t.Errorf("%s is answered without a citation", r.ID)
		}
	}
	lessonsAreUsed(t, s)
}

// lessonsAreUsed wants each of the demo's lessons answered from the page that it shows,
// and none of them refused.
func lessonsAreUsed(t *testing.T, s *Service) {
	t.Helper()
	entries, err := rank.ReadGlossary(demo.Glossary())
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.SetGlossary(t.Context(), "garden", entries); err != nil {
		t.Fatal(err)
	}
	shown, err := measure.ReadSet("lessons.jsonl", demo.Lessons())
	if err != nil {
		t.Fatal(err)
	}
	lessons, err := s.Teach(t.Context(), "garden", api.LessonsOf(shown))
	if err != nil {
		t.Fatal(err)
	}
	for _, l := range lessons {
		if l.Problem != "" {
			t.Errorf("%s is not used: %s", l.Question, l.Problem)
			continue
		}
		given, err := s.Ask(t.Context(), "garden", Ask{Question: l.Question, After: l.After}, Listener{})
		if err != nil {
			t.Fatal(err)
		}
		q := l.Asked()
		if !given.Taught || !q.Proven(given.Citations) {
			t.Errorf("%s: taught %t, cited are %+v", l.Question, given.Taught, given.Citations)
		}
	}
}
