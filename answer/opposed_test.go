package answer

import (
	"strings"
	"testing"
)

func TestOpposes(t *testing.T) {
	for _, test := range []struct {
		question, sentence string
		want               bool
	}{
		{"how warm is the house by night", "By day it is kept at 20 °C.", true},
		{"how warm is the house by night", "Day: 20 °C, night: 12 °C.", false},
		{"how warm is the house by day and by night", "By day it is kept at 20 °C.", false},
		{"what does a red flag mean", "A green flag means go.", true},
		{"what does a red flag mean", "A red or white flag means stop.", false},
		{"how long may somebody stay in the cold store", "Seed may stay out of the cold store for four hours.", true},
		{"how long may somebody stay in the cold store", "Stay no longer than 15 minutes.", false},
		{"how long may seed stay out of the store", "Nobody stays inside for long.", true},
		{"who is in the store", "The keys are out of order.", false},
	} {
		q := &question{oppositions: oppositionsOf(test.question), stays: staysOtherwise(test.question)}
		if got := q.opposes(test.sentence); got != test.want {
			t.Errorf("%q says the contrary of %q: %v", test.sentence, test.question, got)
		}
	}
}

// TestStayingOutIsNotStayingIn asks of one where the documents speak of the other in the
// question's very words.
func TestStayingOutIsNotStayingIn(t *testing.T) {
	a := asker(t)
	if got := ask(t, a, "How long may seed stay in the cold store?"); strings.Contains(got.Text, "four hours") {
		t.Errorf("in the store: %s", got.Text)
	}
	if got := ask(t, a, "How long may seed stay out of the cold store?"); got.Short != "Four hours" {
		t.Errorf("out of the store: %s", got.Text)
	}
}

// TestWhereNothingIsGiven tells what denies all from what sets a bound.
func TestWhereNothingIsGiven(t *testing.T) {
	for _, test := range []struct {
		question, sentence string
		denies             bool
	}{
		{"How much seed is given?", "No seed is given from accessions with fewer than 500 seeds.", true},
		{"How many hours may somebody work?", "Nobody works more than 48 hours in a week.", false},
		{"How many may come?", "No more than six visitors are admitted.", false},
		{"How many rounds are walked?", "No round is walked alone before ten have been walked with a grower.", false},
		{"Is seed given?", "No seed is given on Sundays.", false},
	} {
		if got := questionOf(test.question).denies(test.sentence); got != test.denies {
			t.Errorf("%s, %q: %v", test.question, test.sentence, got)
		}
	}
}
