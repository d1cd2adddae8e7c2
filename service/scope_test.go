package service

import (
	"errors"
	"testing"
	"time"
)

func TestScope(t *testing.T) {
	s := loaded(t)
	find := func(scope Scope) map[string]bool {
		t.Helper()
		found, err := s.Find(t.Context(), "garden", "open open ouvrent serres glasshouses", 50, scope)
		if err != nil {
			t.Fatal(err)
		}
		out := map[string]bool{}
		for _, f := range found {
			out[f.Document] = true
		}
		return out
	}
	if got := find(Scope{}); len(got) < 3 {
		t.Fatalf("without a scope %v are found", got)
	}
	if got := find(Scope{Language: "fr"}); len(got) != 1 || !got["informations-visiteurs.pdf"] {
		t.Errorf("in French %v are found", got)
	}
	if got := find(Scope{Documents: []string{"glasshouse-manual.pdf", "informations-visiteurs.pdf"}, Language: "en"}); len(got) != 1 || !got["glasshouse-manual.pdf"] {
		t.Errorf("of two documents %v are English", got)
	}
	today, tomorrow := time.Now().UTC().Format(time.DateOnly), time.Now().UTC().AddDate(0, 0, 2).Format(time.DateOnly)
	if got := find(Scope{Since: today}); len(got) < 3 {
		t.Errorf("since today %v", got)
	}
	if got := find(Scope{Since: tomorrow}); len(got) != 0 {
		t.Errorf("since the day after tomorrow %v", got)
	}
	if _, err := s.Find(t.Context(), "garden", "open", 5, Scope{Since: "31.1.2026"}); !errors.Is(err, ErrInvalid) {
		t.Errorf("a day in another form: %v", err)
	}
	if _, err := s.Find(t.Context(), "garden", "open", 5, Scope{Documents: []string{"none.pdf"}}); err == nil {
		t.Error("a document that is not there is looked in")
	}
	got, err := s.Ask(t.Context(), "garden", Ask{Question: "At what time do the glasshouses open?", Scope: Scope{Language: "fr"}}, Listener{})
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range got.Citations {
		if c.Document != "informations-visiteurs.pdf" {
			t.Errorf("asked in French documents, %s is cited", c.Document)
		}
	}
}
