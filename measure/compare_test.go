package measure

import (
	"bytes"
	"encoding/xml"
	"fmt"
	"math"
	"strings"
	"testing"
	"time"

	"jardinet/answer"
)

// measured makes a measurement of n questions of which those that right names succeed.
func measured(id string, n int, right func(i int) bool) *Measurement {
	m := &Measurement{ID: id, Created: time.Unix(0, 0).UTC(), Set: SetInfo{Name: "q.jsonl", Questions: n}, Subject: Subject{Collection: "garden"}}
	for i := range n {
		r := Record{
			ID: fmt.Sprint("q", i), Question: fmt.Sprint("Question ", i, "?"), Tags: []string{[]string{"even", "odd"}[i%2]}, Answerable: true, Judged: true,
			Evidence: []Evidence{{Document: fmt.Sprint(i%7, ".pdf"), Page: 1}}, State: answer.Answered, Confidence: 0.9, Outcome: Wrong, Cause: PassedOver,
		}
		if right(i) {
			r.Outcome, r.Cited, r.Rank, r.Cause = Right, true, 1, ""
		}
		m.Records = append(m.Records, r)
	}
	m.Summarise()
	return m
}

func TestCompare(t *testing.T) {
	a := measured("a", 60, func(i int) bool { return i < 20 })
	b := measured("b", 62, func(i int) bool { return i < 40 && i != 3 })
	b.Records[5].Question = "In other words?"
	c, err := Compare(a, b)
	if err != nil {
		t.Fatal(err)
	}
	if c.Questions != 59 || c.OnlyA != 1 || c.OnlyB != 3 || len(c.Better) != 20 || len(c.Worse) != 1 || c.Worse[0].ID != "q3" {
		t.Errorf("%d questions in both, %d and %d left out, %d better, %d worse", c.Questions, c.OnlyA, c.OnlyB, len(c.Better), len(c.Worse))
	}
	for _, f := range c.Figures {
		if f.Name != Proved {
			continue
		}
		if f.P > 0.001 || !f.Better || f.Worse || f.Low <= 0 || math.Abs(f.Difference-19./59) > 1e-4 {
			t.Errorf("%+v", f)
		}
	}
	if c.Causes[0].Cause != PassedOver || c.Causes[0].A != 40 || c.Causes[0].B != 21 {
		t.Errorf("causes are %+v", c.Causes)
	}
	if _, err := Compare(a, measured("c", 0, nil)); err == nil || !strings.Contains(err.Error(), "same set") {
		t.Errorf("two that have nothing in common give the error %v", err)
	}
	same, err := Compare(a, a)
	if err != nil || same.McNemar != 1 || same.Figures[0].P != 1 || same.Figures[0].Better || same.Figures[0].Worse {
		t.Errorf("a measurement and itself: %+v, %v", same, err)
	}
}

// TestMcNemar has the exact two-sided probabilities of the binomial distribution, worked by hand:
// of 12 that changed 10 got better, 2·(1+12+66)/4096; of 5 all, 2/32.
func TestMcNemar(t *testing.T) {
	for _, test := range []struct {
		better, worse int
		want          float64
	}{{10, 2, 0.0386}, {2, 10, 0.0386}, {5, 0, 0.0625}, {3, 3, 1}, {0, 0, 1}, {4, 3, 1}} {
		if got := McNemar(test.better, test.worse); math.Abs(got-test.want) > 1e-4 {
			t.Errorf("%d better and %d worse: %.4f, want %.4f", test.better, test.worse, got, test.want)
		}
	}
}

// TestRandomisation compares with all 2⁴ ways of exchanging four pairs whose differences are 1:
// only two of them are as far apart.
func TestRandomisation(t *testing.T) {
	x, y := make([]sample, 4), make([]sample, 4)
	for i := range x {
		x[i], y[i] = sample{value: 0, weight: 1}, sample{value: 1, weight: 1}
	}
	if p := randomisation(x, y); math.Abs(p-2./16) > 0.01 {
		t.Errorf("p is %.4f, want about %.4f", p, 2./16)
	}
}

func TestWeakest(t *testing.T) {
	m := measured("a", 40, func(i int) bool { return i%2 == 0 || i < 10 })
	if tag, share, n := m.Weakest(5); tag != "odd" || share != 0.25 || n != 20 {
		t.Errorf("the weakest is %s with %.2f of %d", tag, share, n)
	}
	if tag, _, _ := m.Weakest(21); tag != "" {
		t.Errorf("%s has enough questions", tag)
	}
}

// TestCalibration has answers of confidence .9, of which half are right: Brier is the mean of
// .01 and .81, and the error .4.
func TestCalibration(t *testing.T) {
	c := measured("a", 40, func(i int) bool { return i%2 == 0 }).Calibration
	if c.Answers != 40 || math.Abs(c.Brier-0.41) > 1e-9 || math.Abs(c.ECE-0.4) > 1e-9 || len(c.Bins) != 1 || c.Bins[0].Right != 0.5 {
		t.Errorf("%+v", c)
	}
	if len(c.Risk) != 1 || c.Risk[0].Coverage != 1 || c.Risk[0].Risk != 0.5 {
		t.Errorf("answers that are as sure as each other cannot be told apart, and yet the curve is %+v", c.Risk)
	}
	m := measured("a", 4, func(i int) bool { return i < 2 })
	for i := range m.Records {
		m.Records[i].Confidence = 0.9 - float64(i)/10
	}
	m.Records[3].State, m.Records[3].Outcome = answer.NotFound, Refused
	m.Summarise()
	if r := m.Calibration.Risk; len(r) != 3 || r[1] != (Risk{0.8, 0.5, 0}) || r[2].Coverage != 0.75 || math.Abs(r[2].Risk-1./3) > 1e-4 {
		t.Errorf("the curve is %+v", r)
	}
}

func TestRequirements(t *testing.T) {
	m := measured("a", 40, func(i int) bool { return i < 38 })
	for _, test := range []struct {
		required string
		held     bool
	}{
		{"page_recall@5>=0.95", true}, {"page_recall@5 >= 0.96", false}, {"wrong_of_those_given<=0.05", true}, {"right_page_cited>=0.99", false}, {"refusals_right>=0.5", false},
	} {
		r, err := ParseRequirement(test.required)
		if err != nil {
			t.Fatal(err)
		}
		if v := r.Holds(m); v.Held != test.held || v.Reason == "" {
			t.Errorf("%s: %+v", test.required, v)
		}
	}
	for _, bad := range []string{"", "page_recall@5", "page_recall@5>0.9", "colour>=0.5", "page_recall@5>=95"} {
		if _, err := ParseRequirement(bad); err == nil || !strings.Contains(err.Error(), "requirement") {
			t.Errorf("%q: error %v", bad, err)
		}
	}
	worse, err := Compare(m, measured("b", 40, func(i int) bool { return i < 20 }))
	if err != nil {
		t.Fatal(err)
	}
	held := map[string]bool{}
	for _, v := range worse.NoWorse() {
		held[v.Required] = v.Held
	}
	if held["right_page_cited no worse"] || held["wrong_of_those_given no worse"] || !held["refusals_wrong no worse"] {
		t.Errorf("%v", held)
	}
}

func TestJUnit(t *testing.T) {
	m := measured("a", 3, func(i int) bool { return i > 0 })
	for _, test := range []struct {
		required        []Verification
		tests, failures int
	}{
		{nil, 3, 1}, {[]Verification{{Required: "x>=1", Reason: "x is 0"}, {Required: "y>=0", Held: true}}, 5, 1},
	} {
		var out bytes.Buffer
		if err := WriteJUnit(&out, m, test.required); err != nil {
			t.Fatal(err)
		}
		var suite junitSuite
		if err := xml.Unmarshal(out.Bytes(), &suite); err != nil || suite.Tests != test.tests || suite.Failures != test.failures || len(suite.Cases) != test.tests {
			t.Errorf("%d tests, %d failures, error %v in\n%s", suite.Tests, suite.Failures, err, out.String())
		}
	}
}

// TestAgreement is the example of two judges of 50 things of whom both say yes to 20 and no to
// 15, and one alone to 5 and 10: κ = (.7 − .5) / (1 − .5).
func TestAgreement(t *testing.T) {
	var all []Verdict
	says := func(n int, a, b Judgement) {
		for range n {
			id := fmt.Sprint(len(all))
			all = append(all, Verdict{Question: id, Judge: "ada", Says: a}, Verdict{Question: id, Judge: "ben", Says: b})
		}
	}
	says(20, IsRight, IsRight)
	says(15, IsWrong, IsWrong)
	says(5, IsRight, IsWrong)
	says(10, IsWrong, IsRight)
	all = append(all, Verdict{Question: "alone", Judge: "ada", Says: IsRight})
	if got, ok := Agree(all, "ada", "ben"); !ok || got.Both != 50 || math.Abs(got.Kappa-0.4) > 1e-9 || math.Abs(got.Agreed-0.7) > 1e-9 {
		t.Errorf("%+v", got)
	}
	if _, ok := Agree(all, "ada", "cleo"); ok {
		t.Error("somebody who judged nothing agrees")
	}
}

func TestJudgedByPeople(t *testing.T) {
	m := measured("a", 4, func(i int) bool { return i == 0 })
	m.Records[3].State, m.Records[3].Outcome = answer.NotFound, Refused
	got := m.Judge([]Verdict{
		{Question: "q0", Judge: "ada", Says: IsRight}, {Question: "q0", Judge: "ben", Says: IsPartly, Cause: WrongSpan},
		{Question: "q1", Judge: "ada", Says: IsRight}, {Question: "q2", Judge: "ada", Says: CannotSay}, {Question: "q3", Judge: "ada", Says: IsWrong},
	})
	want := []Record{{Outcome: Wrong, Cause: WrongSpan}, {Outcome: Right}, {Outcome: Wrong, Cause: PassedOver}, {Outcome: Refused, Cause: PassedOver}}
	for i, r := range got.Records {
		if r.Outcome != want[i].Outcome || r.Cause != want[i].Cause {
			t.Errorf("%s is %s (%s), want %s (%s)", r.ID, r.Outcome, r.Cause, want[i].Outcome, want[i].Cause)
		}
	}
	if m.Records[0].Outcome != Right {
		t.Error("the measurement itself was changed")
	}
	for _, bad := range []Verdict{{}, {Says: "fine"}, {Says: IsWrong, Better: &Evidence{Page: 3}}} {
		if bad.Check() == nil {
			t.Errorf("%+v is taken", bad)
		}
	}
}
