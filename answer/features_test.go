package answer

import (
	"testing"
)

func TestFeatureNamesFitTheVector(t *testing.T) {
	if n := len((&Features{}).Vector()); n != len(FeatureNames) || n != len(evidenceWeights()) {
		t.Fatalf("%d features, %d names, %d weights", n, len(FeatureNames), len(evidenceWeights()))
	}
	if n := len((&Signals{}).Vector()); n != len(SignalNames) {
		t.Fatalf("%d signals, %d names", n, len(SignalNames))
	}
}

func TestFeatures(t *testing.T) {
	a := asker(t)
	a.Alternatives = true
	best := func(question string) Features {
		t.Helper()
		all := ask(t, a, question).Alternatives
		if len(all) == 0 {
			t.Fatalf("%s: nothing was weighed", question)
		}
		return all[0].Features
	}
	row := best("What is the night minimum in the Dew House?")
	if row.Keyed == 0 || row.Other != 0 || row.Fits != 1 || row.Unfit != 0 || row.Pairs == 0 {
		t.Errorf("a row of a table: %+v", row)
	}
	step := best("What do I do when the cold store alarm rings?")
	if step.Section == 0 || step.Unfit != 0 || step.Fits != 1 {
		t.Errorf("a step: %+v", step)
	}
	if missing := best("What colour is the cold store?"); missing.Fits != 0 || missing.Unfit != 1 {
		t.Errorf("a colour that is not there: %+v", missing)
	}
}

func TestAlternativesAreWeighedAnew(t *testing.T) {
	a := asker(t)
	a.Alternatives = true
	all := ask(t, a, "How long may seed stay out of the cold store?").Alternatives
	if len(all) < 2 {
		t.Fatalf("%d alternatives", len(all))
	}
	first := all[0].Text
	weights := make([]float64, len(FeatureNames))
	for i, w := range evidenceWeights() {
		weights[i] = -w
	}
	Weigh(all, weights)
	if all[len(all)-1].Text != first {
		t.Errorf("by the opposite weights %q is not the last but %q", first, all[len(all)-1].Text)
	}
}

func TestValuesAreToldByTheirForm(t *testing.T) {
	tests := []struct {
		question, yes, no string
	}{
		{"What colour are the sacks?", "They go into a yellow sack.", "They go into a large sack."},
		{"What is the telephone number of the gate?", "Call extension 204.", "Call the gate."},
		{"Which e-mail address do I write to?", "Write to seeds@halvern.example.", "Write to the vault."},
		{"What is the web address of the shop?", "See www.halvern.example/shop.", "See the shop."},
	}
	for _, test := range tests {
		value := valueOf(foldedQuestion(test.question))
		if value == nil || !value.MatchString(test.yes) || value.MatchString(test.no) {
			t.Errorf("%s: %v", test.question, value)
		}
	}
	if valueOf(foldedQuestion("Who answers the telephone?")) != nil {
		t.Error("who answers the telephone is no number")
	}
}

func TestSalariesNeedTheirName(t *testing.T) {
	units, named := dimensionOf(foldedQuestion("What is the salary of the Director?"))
	if units == nil || named == nil || named.MatchString("up to £25,000") || !named.MatchString("paid £25,000 a year") {
		t.Errorf("%v, %v", units, named)
	}
}

func TestPassagesAreOrderedByEvidence(t *testing.T) {
	candidates := []Candidate{{DocumentID: "a"}, {DocumentID: "b"}, {DocumentID: "c"}, {DocumentID: "d"}}
	got := ""
	for _, c := range byEvidence(candidates, []evidence{{candidate: 2}, {candidate: 0}, {candidate: 2}}) {
		got += c.DocumentID
	}
	if got != "cabd" {
		t.Errorf("the order is %s", got)
	}
}
