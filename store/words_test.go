package store

import (
	"errors"
	"testing"
)

// stocked returns a store with one collection.
func stocked(t *testing.T) (*Store, string) {
	t.Helper()
	s, err := Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	c, err := s.CreateCollection(t.Context(), "garden", map[string]int{})
	if err != nil {
		t.Fatal(err)
	}
	return s, c.ID
}

func TestSettings(t *testing.T) {
	s, id := stocked(t)
	if g, err := s.Glossary(t.Context(), id); err != nil || string(g) != "[]" {
		t.Errorf("a new glossary is %s, error %v", g, err)
	}
	if err := s.SetStyle(t.Context(), id, map[string]string{"add": "x"}); err != nil {
		t.Fatal(err)
	}
	if style, err := s.Style(t.Context(), id); err != nil || string(style) != `{"add":"x"}` {
		t.Errorf("the style is %s, error %v", style, err)
	}
	if err := s.SetGlossary(t.Context(), "none", []int{}); !errors.Is(err, ErrNotFound) {
		t.Errorf("an unknown collection: %v", err)
	}
}

func TestUnknownWordsAreCounted(t *testing.T) {
	s, id := stocked(t)
	for _, w := range []string{"icebox", "zeppelin", "icebox"} {
		if err := s.CountUnknown(t.Context(), id, "Where is the "+w+"?", w); err != nil {
			t.Fatal(err)
		}
	}
	got, err := s.Unknown(t.Context(), id, 1)
	if err != nil || len(got) != 1 || got[0] != (Unknown{"icebox", 2, "Where is the icebox?"}) {
		t.Errorf("got %+v, error %v", got, err)
	}
}

// TestSpending holds that a budget is not passed, and that what was not spent of it is there again.
func TestSpending(t *testing.T) {
	s, id := stocked(t)
	const day = "2026-05-01"
	reserve := func(day string, more, most Spending) bool {
		t.Helper()
		ok, err := s.Reserve(t.Context(), id, day, more, most)
		if err != nil {
			t.Fatal(err)
		}
		return ok
	}
	if !reserve(day, Spending{40, .5}, Spending{100, 1}) || !reserve(day, Spending{60, .5}, Spending{100, 1}) {
		t.Error("what is within the budget is refused")
	}
	if reserve(day, Spending{1, 0}, Spending{100, 0}) || reserve(day, Spending{0, .1}, Spending{0, 1}) {
		t.Error("the budget is passed")
	}
	if !reserve("2026-05-02", Spending{100, 1}, Spending{100, 1}) || !reserve(day, Spending{1, 0}, Spending{}) {
		t.Error("another day's budget, or none, is spent")
	}
	if err := s.Spend(t.Context(), id, day, Spending{-31, -.25}); err != nil {
		t.Fatal(err)
	}
	if reserve(day, Spending{31, 0}, Spending{100, 1}) || !reserve(day, Spending{30, .25}, Spending{100, 1}) {
		t.Error("what was given back is not what may be spent again")
	}
}

func TestConversations(t *testing.T) {
	s, id := stocked(t)
	first, err := s.AddTurn(t.Context(), id, "", "gwen", "Who?", []byte(`{"answer":"a"}`))
	if err != nil {
		t.Fatal(err)
	}
	if again, err := s.AddTurn(t.Context(), id, first, "gwen", "And when?", []byte(`{}`)); err != nil || again != first {
		t.Fatalf("the second question is in %s, error %v", again, err)
	}
	if _, err := s.AddTurn(t.Context(), id, "none", "gwen", "Why?", []byte(`{}`)); !errors.Is(err, ErrNotFound) {
		t.Errorf("an unknown conversation: %v", err)
	}
	if _, err := s.AddTurn(t.Context(), id, first, "edda", "Why?", []byte(`{}`)); !errors.Is(err, ErrNotFound) {
		t.Errorf("somebody else's conversation: %v", err)
	}
	c, err := s.Conversation(t.Context(), id, first)
	if err != nil || len(c.Turns) != 2 || c.Turns[1].Question != "And when?" || string(c.Turns[0].Answer) != `{"answer":"a"}` {
		t.Errorf("kept %+v, error %v", c, err)
	}
	all, err := s.Conversations(t.Context(), id)
	if err != nil || len(all) != 1 || len(all[0].Turns) != 1 {
		t.Errorf("listed %+v, error %v", all, err)
	}
	if err := s.RemoveConversation(t.Context(), id, first); err != nil {
		t.Fatal(err)
	}
	if err := s.RemoveConversation(t.Context(), id, first); !errors.Is(err, ErrNotFound) {
		t.Errorf("removed twice: %v", err)
	}
}

func TestAbbreviations(t *testing.T) {
	s, id := stocked(t)
	if err := s.SetAbbreviations(t.Context(), "no document", [][2]string{{"SSI", "x"}}); err == nil {
		t.Error("abbreviations of no document are kept")
	}
	if got, err := s.Abbreviations(t.Context(), id); err != nil || len(got) != 0 {
		t.Errorf("got %v, error %v", got, err)
	}
}
