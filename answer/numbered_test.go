package answer

import (
	"slices"
	"testing"

	"jardinet/layout"
	"jardinet/passage"
)

func TestNamingNumbers(t *testing.T) {
	for question, want := range map[string][]string{
		"When does train 13 leave the Main Gate?":    {"13"},
		"How many panes broke in the storm of 2023?": {"2023"},
		"What does rule 4.2 say?":                    {"4.2"},
		"What was the flow of boiler no. 2 in 1997?": {"1997", "2"},
		"Who may sign for a purchase of £20,000?":    nil,
		"May I stay 20 minutes at 32 °C?":            nil,
		"Is a coach for 16 passengers?":              nil,
		"How many are there?":                        nil,
	} {
		if got := namingNumbers(question, "en"); !slices.Equal(got, want) {
			t.Errorf("%s names by %q, want %q", question, got, want)
		}
	}
}

func TestHoldsNumber(t *testing.T) {
	for _, test := range []struct {
		s, number string
		want      bool
	}{
		{"7 · Main Gate: 14:00", "7", true},
		{"5 · Pinetum: 13:03", "13", false},
		{"8.13 tonnes, 1,300 and 130", "13", false},
		{"in 13, and then", "13", true},
		{"It ended in 2023.", "2023", true},
		{"", "1", false},
	} {
		if got := holdsNumber(test.s, test.number); got != test.want {
			t.Errorf("%q holds %s: %v", test.s, test.number, got)
		}
	}
}

func TestUnnumbered(t *testing.T) {
	p := &passage.Passage{}
	for i, s := range []string{"Train 9 waits.", "It is late.", "7 · Main Gate: 14:00", "9 · Main Gate: 15:15"} {
		at := passage.Sentence{Start: len(p.Text), End: len(p.Text) + len(s)}
		if i > 1 {
			at.Kind = layout.Table
		}
		p.Text, p.Sentences = p.Text+s, append(p.Sentences, at)
	}
	q := &question{numbers: []string{"9"}}
	for i, want := range []float64{0, inItsPassage, 1, 0} {
		if got := q.unnumbered(p, i, "6.2 Trains"); got != want {
			t.Errorf("%q lacks %g of the numbers, want %g", p.Text[p.Sentences[i].Start:p.Sentences[i].End], got, want)
		}
	}
	if got := q.unnumbered(p, 2, "Rule 9"); got != 0 {
		t.Errorf("a number in the heading is lacking by %g", got)
	}
	if got := (&question{}).unnumbered(p, 2, ""); got != 0 {
		t.Errorf("a question without numbers lacks %g", got)
	}
}
