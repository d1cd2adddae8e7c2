package answer

import "testing"

// A follow-up of nothing but grammar is about what was spoken of.
func TestFollowUpsOfGrammar(t *testing.T) {
	a := asker(t)
	found := 0
	for _, term := range a.analyse("Until when must it?", []string{"May seed stay out of the cold store?"}).query.Terms {
		if term.Weight != 1 {
			t.Errorf("%q is taken over at %.2f", term.Word, term.Weight)
		}
		if term.Word == "seed" || term.Word == "cold" || term.Word == "store" {
			found++
		} else if term.Word != "stay" {
			t.Errorf("it looks for %q", term.Word)
		}
	}
	if found != 3 {
		t.Errorf("it looks for %d of what was spoken of", found)
	}
	if got := ask(t, a, "And for how long?", "May seed stay out of the cold store?"); got.Short != "Four hours" {
		t.Errorf("for how long: %q", got.Short)
	}
	if q := a.analyse("Until when must I?", nil); len(q.query.Terms) == 0 {
		t.Error("a question of grammar alone, the first of its conversation, looks for nothing")
	}
}

// "How long" stands for its measure: what is long by itself does not tell it.
func TestMeasuresStandAlone(t *testing.T) {
	a := asker(t)
	words := func(question string) map[string]float64 {
		out := map[string]float64{}
		for _, term := range a.analyse(question, nil).query.Terms {
			out[term.Word] = term.Weight
		}
		return out
	}
	if got := words("How long does the seed stay?"); got["long"] != 0 || got["how long"] != softWeight || got["seed"] != 1 {
		t.Errorf("how long: %v", got)
	}
	if got := words("Is the long bench in the house?"); got["long"] == 0 {
		t.Errorf("a long bench: %v", got)
	}
	if got := words("How polite must one be?"); got["polite"] != 1 {
		t.Errorf("how polite: %v", got)
	}
}
