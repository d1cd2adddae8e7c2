package answer

import (
	"context"
	"slices"
	"testing"
)

func TestAFollowUpKnowsWhereTheLastAnswerStood(t *testing.T) {
	a := asker(t)
	const first = "How long may seed stay out of the cold store?"
	told, err := a.following(t.Context(), []string{first})
	if err != nil || told.before == nil || *told.before.said.stands != (Place{"vault.pdf", 0, 0}) {
		t.Fatalf("the last answer is %+v, error %v", told.before, err)
	}
	if a.before != nil {
		t.Error("the asker itself was changed")
	}
	for _, after := range [][]string{nil, {"Which rocket flies to the moon?"}} {
		if told, err := a.following(t.Context(), after); err != nil || told != a {
			t.Errorf("after %q there is a turn %+v, error %v", after, told.before, err)
		}
	}
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	if _, err := a.following(ctx, []string{first}); err == nil {
		t.Error("a cancelled question before went unnoticed")
	}
}

func TestFollow(t *testing.T) {
	last := &Place{"vault.pdf", 2, 3}
	for _, test := range []struct {
		last                 *Place
		at                   Place
		along, again, onward float64
	}{
		{nil, Place{"vault.pdf", 2, 3}, 0, 0, 0},
		{last, Place{"vault.pdf", 2, 3}, 1, 1, 0},
		{last, Place{"vault.pdf", 2, 4}, 1, 0, 1},
		{last, Place{"vault.pdf", 2, 2}, 1, 0, 0},
		{last, Place{"vault.pdf", 1, 3}, 0, 0, 0},
		{last, Place{"house.pdf", 2, 3}, 0, 0, 0},
	} {
		var f Features
		if f.follow(test.last, test.at); f.Along != test.along || f.Again != test.again || f.Onward != test.onward {
			t.Errorf("%v after %v: along %.0f, again %.0f, onward %.0f", test.at, test.last, f.Along, f.Again, f.Onward)
		}
	}
}

func TestWhatIsAskedBesideLeavesNoTrace(t *testing.T) {
	a := asker(t)
	a.Trace, a.Alternatives, a.Draft = true, true, func(string) { t.Error("a draft of what was asked beside was handed out") }
	if p := a.plain(); p.Trace || p.Alternatives || p.Draft != nil || p.Style.Model != nil || !a.Trace {
		t.Errorf("plain is %+v", p)
	}
}

// TestBringTakesNoPassageTwice brings one that was found but not taken, one that was
// taken and one that was not found.
func TestBringTakesNoPassageTwice(t *testing.T) {
	a := asker(t)
	a.Embed = nil // by meaning all would be found
	q := a.analyse("How long may seed stay out of the cold store?", nil)
	s := &Search{Query: q.query}
	if err := a.search(t.Context(), q.standalone, q.language, s, 2); err != nil {
		t.Fatal(err)
	}
	if len(s.hits) < 3 || len(s.Candidates) != 2 {
		t.Fatalf("%d hits, %d candidates", len(s.hits), len(s.Candidates))
	}
	taken := Place{s.Candidates[0].DocumentID, s.Candidates[0].Ordinal, 0}
	var left Place
	for _, h := range s.hits {
		if !slices.ContainsFunc(s.Candidates, func(c Candidate) bool { return c.DocumentID == h.Key && c.Ordinal == h.Ordinal }) {
			left = Place{h.Key, h.Ordinal, 0}
		}
	}
	unfound := Place{"visiteurs.pdf", 0, 0}
	for range 2 {
		if err := a.bring(s, taken, left, left, unfound, Place{"none.pdf", 0, 0}); err != nil {
			t.Fatal(err)
		}
		seen := map[Place]int{}
		for _, c := range s.Candidates {
			seen[Place{c.DocumentID, c.Ordinal, 0}]++
		}
		if len(s.Candidates) != 4 || seen[taken] != 1 || seen[left] != 1 || seen[unfound] != 1 {
			t.Errorf("candidates are %v", seen)
		}
	}
}
