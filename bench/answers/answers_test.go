package main

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"jardinet/answer"
)

// made returns questions whose right alternative holds more of the question, and
// whose wrong ones are as often of the wanted kind as not.
func made(n int) []question {
	random := rand.New(rand.NewPCG(4, 2))
	var out []question
	for i := range n {
		q := question{kind: "lookup", fold: i % folds, answerable: true}
		for k := range 6 {
			f := answer.Features{Inside: 0.4 * random.Float64(), Fits: float64(random.IntN(2)), Gap: random.Float64()}
			if k == 2 {
				f.Inside, f.Gap = 0.5+0.4*random.Float64(), 0.2*random.Float64()
			}
			q.all = append(q.all, answer.Alternative{Text: string(rune('a' + k)), Citations: []answer.Citation{{DocumentID: "d"}}, Features: f})
			q.right = append(q.right, k == 2)
			q.unclear = append(q.unclear, false)
		}
		out = append(out, q)
	}
	return out
}

func at(name string) int { return slices.Index(everything, name) }

func TestFitFindsWhatMatters(t *testing.T) {
	w := fitEvidence(made(60), everything, 0.003)
	if w[at("inside")] < 2 || w[at("gap")] > -0.5 || w[at("cosine")] != 0 {
		t.Errorf("inside %.2f, gap %.2f, cosine %.2f", w[at("inside")], w[at("gap")], w[at("cosine")])
	}
	if math.Abs(w[at("fits")]) > 0.5*w[at("inside")] {
		t.Errorf("fits, which tells nothing, weighs %.2f", w[at("fits")])
	}
	only := fitEvidence(made(60), []string{"fits"}, 0.003)
	if only[at("inside")] != 0 {
		t.Error("a feature that was left out has a weight")
	}
}

func TestWeightsKeepTheirSigns(t *testing.T) {
	questions := made(60)
	for i := range questions {
		for k := range questions[i].all {
			f := &questions[i].all[k].Features
			f.Title, f.Apart = f.Gap, f.Inside // as if what is beside it spoke against it
		}
	}
	w := fitEvidence(questions, []string{"title", "apart"}, 0.003)
	if w[at("title")] != 0 || w[at("apart")] != 0 {
		t.Errorf("title %.2f, apart %.2f", w[at("title")], w[at("apart")])
	}
	for _, name := range against {
		if at(name) < 0 {
			t.Errorf("%s is no feature", name)
		}
	}
	for _, g := range groups {
		for _, name := range g.features {
			if at(name) < 0 {
				t.Errorf("%s, of %s, is no feature", name, g.name)
			}
		}
	}
}

func TestUnclearAlternativesAreLeftOut(t *testing.T) {
	q := made(1)
	q[0].unclear[0] = true
	if lists := vectors(q); len(lists) != 1 || len(lists[0].Features) != 5 {
		t.Errorf("%d lists", len(lists))
	}
	q[0].right = make([]bool, 6)
	if lists := vectors(q); len(lists) != 0 {
		t.Error("a question without a right alternative is fitted")
	}
}

func TestWeighedTakesTheBest(t *testing.T) {
	questions := made(40)
	right := 0
	for _, s := range crossed(questions, everything, 0.003) {
		if s.right {
			right++
		}
	}
	if right < 36 {
		t.Errorf("%d of 40 are right", right)
	}
	worst := make([]float64, len(everything))
	worst[at("inside")] = -1
	for _, s := range weighed(questions, worst) {
		if s.right {
			t.Error("by the opposite weight the best is right")
		}
	}
}

func TestConfidenceIsFitted(t *testing.T) {
	random := rand.New(rand.NewPCG(9, 9))
	coverage := slices.Index(answer.SignalNames, "coverage")
	var samples []sample
	for range 300 {
		signals := answer.Signals{Coverage: random.Float64()}
		samples = append(samples, sample{"lookup", signals.Vector(), random.Float64() < signals.Coverage, true})
	}
	w := fitConfidence(samples, 0.001)
	low, high := answer.Signals{Coverage: 0.1}, answer.Signals{Coverage: 0.9}
	if l, h := likely(w, low.Vector()), likely(w, high.Vector()); l > 0.3 || h < 0.7 || w[coverage] <= 0 {
		t.Errorf("at .1 it is right with %.2f, at .9 with %.2f", l, h)
	}
	if p := chooseShrinkage(samples); !slices.Contains(shrinkages, p) {
		t.Errorf("the penalty chosen is %g", p)
	}
}

func TestFailuresNameTheDifference(t *testing.T) {
	q := made(1)[0]
	w := make([]float64, len(everything))
	w[at("gap")] = 1
	f, failed := failing(q, w)
	if !failed || f.right == nil || f.right.Text != "c" || f.place < 2 || f.lead <= 0 {
		t.Fatalf("%+v", f)
	}
	w[at("gap")], w[at("inside")] = 0, 1
	if _, failed := failing(q, w); failed {
		t.Error("the right one is a failure")
	}
	q.answerable = false
	if _, failed := failing(q, w); failed {
		t.Error("a question that cannot be answered is a failure")
	}
}
