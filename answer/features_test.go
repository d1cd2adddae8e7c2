package answer

import (
	"strings"
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

func TestSignalsTellHowFarTheBestStandsOut(t *testing.T) {
	at := func(candidate int, score float64, text string) evidence {
		return evidence{candidate: candidate, score: score, text: text}
	}
	alone := signals([]evidence{at(0, 10, "The gate opens at nine."), at(1, 2, "Dogs ride on the floor.")})
	torn := signals([]evidence{at(0, 10, "The gate opens at nine."), at(1, 10, "Dogs ride on the floor.")})
	if alone.Likely < 0.99 || alone.Margin < 0.99 || torn.Likely != 0.5 || torn.Margin != 0 || torn.Here != 0.5 {
		t.Errorf("alone %+v, torn %+v", alone, torn)
	}
	here := signals([]evidence{at(0, 10, "The gate opens at nine."), at(0, 10, "Dogs ride on the floor.")})
	agreed := signals([]evidence{at(0, 10, "The gate opens at nine."), at(1, 10, "The gate opens at nine.")})
	if here.Here != 1 || agreed.Here != 1 || agreed.Likely != 0.5 {
		t.Errorf("in one passage %+v, said twice %+v", here, agreed)
	}
}

func TestWhatStandsBesideTheBestIsSaidToo(t *testing.T) {
	p := paragraph("Keep people away.", "Cover the drain with the mat.", "Read the label on the drum.", "Lunch is at one in the hall.")
	candidates := []Candidate{{Passage: p}, {Passage: p}}
	e := func(candidate, sentence int, score float64) evidence {
		s := p.Sentences[sentence]
		return evidence{candidate: candidate, sentence: sentence, score: score, text: p.Text[s.Start:s.End]}
	}
	q := questionOf("Tell me about a spill")
	found := []evidence{e(0, 1, 5), e(0, 2, 4.3), e(1, 3, 4.3), e(0, 0, 2)}
	got := choose(q, newMatcher(q, nil), found, candidates, maxStatements)
	if len(got) < 2 || got[0].sentence != 1 || got[1].sentence != 2 {
		t.Errorf("%+v", got)
	}
	for _, other := range got {
		if other.candidate == 1 || other.sentence == 0 {
			t.Errorf("%q is no part of the answer", other.text)
		}
	}
	q.want = wantQuantity
	if got := choose(q, newMatcher(q, nil), []evidence{{candidate: 0, sentence: 1, score: 5, fits: true, text: "Cover it for 12 hours with the long mat."}, e(0, 2, 4.5)}, candidates, maxStatements); len(got) != 1 {
		t.Errorf("beside a figure stands %+v", got[1:])
	}
}

func TestSpecificQuestions(t *testing.T) {
	for question, want := range map[string]bool{
		"How heavy is Tansy?": true, "How many visitors came?": true, "What colour is the flag?": true, "How much is left?": false, "Who drives?": false, "Where is the gate?": false,
	} {
		a := asker(t)
		if q := a.analyse(question, nil); q.specific() != want {
			t.Errorf("%s is specific: %v", question, q.specific())
		}
	}
}

func TestStepsUnderTheHeadingThatIsAskedFor(t *testing.T) {
	a := asker(t)
	a.Alternatives = true
	for _, alternative := range ask(t, a, "What do I do when the cold store alarm rings?").Alternatives {
		if f := alternative.Features; f.Listed == 1 && f.Headed < 0.9 {
			t.Errorf("%q stands under a heading that says all that is asked: %+v", alternative.Text, f)
		} else if f.Listed == 0 && f.Headed != 0 {
			t.Errorf("%q is no step: %+v", alternative.Text, f)
		}
	}
}

func TestNamesThatAPassageLacks(t *testing.T) {
	a := asker(t)
	a.Alternatives = true
	for _, alternative := range ask(t, a, "What is the night minimum in the Dew House?").Alternatives {
		f, text := alternative.Features, alternative.Text
		if f.Unnamed != 0 && strings.Contains(text, "Dew House") {
			t.Errorf("the Dew House is in %q: %+v", text, f)
		}
	}
	lacking := ask(t, a, "How long may seed of Bryony stay out of the cold store?").Alternatives
	if len(lacking) == 0 || lacking[0].Features.Unnamed == 0 {
		t.Errorf("no Bryony is there, and nobody noticed: %+v", lacking[:min(1, len(lacking))])
	}
}

func TestConditionOf(t *testing.T) {
	for _, test := range []struct {
		question, sentence string
		want               bool
	}{
		{"when is a seed sample dry", "The seed is dry when the mean of three is 15 per cent or less.", true},
		{"when is a seed sample dry", "Seed is dried at 15 °C until its humidity is 15 per cent.", false},
		{"when are the gates closed", "The gates are closed only if gusts pass 90 km/h.", true},
		{"when may visitors enter", "Visitors enter once the floor is dry.", true},
		{"when is it", "It is so when it is.", false},
	} {
		condition := conditionOf(test.question, "en")
		if got := condition != nil && condition.MatchString(test.sentence); got != test.want {
			t.Errorf("%s: %q tells when: %v", test.question, test.sentence, got)
		}
	}
}

func TestARowForTheAmountAsked(t *testing.T) {
	a := asker(t)
	q := a.analyse("Who signs for £9,000?", nil)
	if len(q.amounts) != 1 || q.amounts[0].value != 9000 {
		t.Errorf("it asks about %v", q.amounts)
	}
}

// TestRowsByTheirWholeName compares the names of rows with questions.
func TestRowsByTheirWholeName(t *testing.T) {
	a := asker(t)
	for _, test := range []struct {
		question, row string
		want          bool
	}{
		{"What do children under three pay on the train?", "Child under 3 · Single £: free", true},
		{"What do children under three pay on the train?", "Child 3 to 15 · Single £: 2.00", false},
		{"What do many short whistles mean?", "Many short · Danger", true},
		{"What do many short whistles mean?", "Two short · Guard: ready to start?", false},
		{"When does train 5 leave?", "5 · Main Gate: 12:45", true},
	} {
		m := newMatcher(a.analyse(test.question, nil), nil)
		if got := m.holdsName(test.row, "en"); got != test.want {
			t.Errorf("%s, %q: %v", test.question, test.row, got)
		}
	}
}
