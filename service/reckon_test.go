package service

import (
	"strings"
	"testing"

	"jardinet/answer"
)

// TestAnswersAreWorkedOut asks for totals and extremes over a table, and for what stands in a sentence.
func TestAnswersAreWorkedOut(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	add(t, s, "garden", "storm-damage-report.pdf")
	settle(t, s, "garden")
	for question, want := range map[string]struct {
		short, words string
		cells        int
	}{
		"What is the total estimate for the repairs after the storm?":   {"£486,000", "Estimate £: 486,000 = 148,000 + 187,000 + 64,000 + 39,000 + 48,000", 5},
		"Which glasshouse fell to the lowest temperature in the storm?": {"Alpine House", "Lowest temperature °C: Alpine House, −5, the smallest of 5", 1},
	} {
		a := ask(t, s, "garden", question)
		if a.State != answer.Answered || a.Short != want.short || a.Text != want.words || len(a.Citations) != 1 || len(a.Citations[0].Boxes) != want.cells || !strings.HasPrefix(a.Note, "Worked out over the cells") {
			t.Errorf("%q is answered %q, %q, citing %+v (%s)", question, a.Short, a.Text, a.Citations, a.Note)
		}
	}
	if a := ask(t, s, "garden", "What was the highest gust in the storm?"); strings.HasPrefix(a.Note, "Worked out") {
		t.Errorf("what stands in a sentence is worked out: %q", a.Text)
	}
	if r, err := s.Reckon(t.Context(), "garden", "Who wrote the report?", Scope{}); r != nil || err != nil {
		t.Errorf("nothing is asked to be worked out, yet it is %+v, error %v", r, err)
	}
	s.Close()
}
