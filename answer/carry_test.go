package answer

import (
	"slices"
	"strings"
	"testing"

	"jardinet/index"
)

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

func TestCarriedPhrasesWeighWhatTheirWordsDo(t *testing.T) {
	terms := []index.Term{{Word: "stay", Weight: 1}, {Word: "cold", Weight: carried}, {Word: "store", Weight: carried}, {Word: "put", Weight: softWeight}}
	coined := []index.Term{{Word: "cold store", Weight: 1}, {Word: "put out", Weight: 1}, {Word: "stay store", Weight: 1}}
	weighCarried(terms, coined)
	if coined[0].Weight != carried || coined[1].Weight != 1 || coined[2].Weight != 1 {
		t.Errorf("phrases weigh %+v", coined)
	}
}

// TestAFollowUpIsNotAboutWhatItTookOverAlone asks something about the cold store
// that only a sentence about the alarm has the form of an answer to.
func TestAFollowUpIsNotAboutWhatItTookOverAlone(t *testing.T) {
	a := asker(t)
	a.Alternatives = true
	given, err := a.Ask(t.Context(), "Who polishes the spoons there?", []string{"What do I do when the cold store alarm rings?"})
	if err != nil {
		t.Fatal(err)
	}
	if given.State == Answered {
		t.Errorf("it answers %q", given.Text)
	}
	for _, alternative := range given.Alternatives {
		if !alternative.evidence.astray {
			t.Errorf("%q says something of polish or spoons", alternative.evidence.text)
		}
	}
}

func TestNoVerdictWhereTwoFiguresAreCompared(t *testing.T) {
	for question, want := range map[string]bool{
		"Is that more than gifts?": true, "Is the Palm House warmer than the Dew House?": true, "Are there fewer than those of 2024?": true,
		"May I stay longer?": false, "Is it other than that": true, "Is the alarm tested every month?": false,
	} {
		if got := measuring.MatchString(question); got != want {
			t.Errorf("%s compares figures: %v", question, got)
		}
	}
}

func TestPartNumbersAreTakenOverWhole(t *testing.T) {
	a := asker(t)
	q := a.analyse("How much of it?", []string{"What is kept in store C2?"})
	if q.standalone != "How much of store C2?" {
		t.Errorf("it is understood as %q", q.standalone)
	}
}

func TestHowMuchTimeOff(t *testing.T) {
	q := asker(t).analyse("How much leave do I get?", nil)
	if q.units == nil || !measures("You have 27 days besides the public holidays.", q.units) || measures("The leave year runs from 1 April to 31 March.", q.units) {
		t.Errorf("leave is measured in %v", q.units)
	}
}

func TestAUnitTellsTheMeasure(t *testing.T) {
	a := asker(t)
	for question, want := range map[string]bool{
		"What volume of water does the tank hold?": true, "How long is the railway in winter?": true, "What does the tank hold?": false, "How many tanks are there?": false,
	} {
		q := a.analyse(question, nil)
		if m := newMatcher(q, nil); (m.measured != 0) != want {
			t.Errorf("%s asks for a measure: %v", question, m.measured != 0)
		}
	}
}

// A follow-up that only names a thing puts it in the place of one of its kind.
func TestAThingTakesThePlaceOfItsKind(t *testing.T) {
	a := asker(t)
	for _, test := range []struct {
		before, then, gone string
		stays              []string
	}{
		{"How much may a lunch cost?", "And dinner?", "lunch", []string{"cost"}},
		{"What is the humidity in the Palm House?", "And the temperature?", "humidity", []string{"palm", "house"}},
		{"What does the ticket cost?", "And for a child?", "", []string{"ticket", "cost"}},
		{"May a dog be in the Palm House?", "And in the Dew House?", "palm", []string{"dog"}},
		{"May a dog bark?", "Where does the cat have to sleep when it rains?", "", []string{"dog"}},
	} {
		has := map[string]bool{}
		for _, term := range a.analyse(test.then, []string{test.before}).query.Terms {
			has[term.Word] = true
		}
		if test.gone != "" && has[test.gone] {
			t.Errorf("%s after %s is still about %q", test.then, test.before, test.gone)
		}
		for _, word := range test.stays {
			if !has[word] && test.gone != "" {
				t.Errorf("%s after %s is not about %q any more", test.then, test.before, word)
			}
		}
	}
}

func TestNumbersTakeThePlaceOfNumbers(t *testing.T) {
	for _, test := range []struct {
		earlier, later string
		want           []string
	}{
		{"what is product 7 for", "and product 13", []string{"7"}},
		{"what is product 7 for", "and product 7", nil},
		{"what is product 7 for", "and its price", nil},
		{"how many visitors came in 2019", "which year had the most", []string{"2019"}},
		{"how many visitors came in 2019", "and what did they pay", nil},
	} {
		if got := renumbered(strings.Fields(test.earlier), strings.Fields(test.later)); !slices.Equal(got, test.want) {
			t.Errorf("%q after %q takes the place of %q, want %q", test.later, test.earlier, got, test.want)
		}
	}
}

// TestTheKindOfAnswerIsInherited has a follow-up after a follow-up.
func TestTheKindOfAnswerIsInherited(t *testing.T) {
	a := asker(t)
	got := ask(t, a, "And of the Dew House?", "What is the night minimum of the Palm House?", "And of the Orchid House?")
	if got.Short != "12 °C" {
		t.Errorf("it says %q, understood as %s", got.Short, got.Standalone)
	}
	soft := a.analyse("How many people can come?", []string{"When is the vault open?"})
	if !slices.ContainsFunc(soft.query.Terms, func(t index.Term) bool { return t.Word == "vault" }) {
		t.Errorf("a question of soft words is understood as %s", soft.standalone)
	}
	who := a.analyse("And the treasurer?", []string{"Who is the finance director?"})
	if slices.ContainsFunc(who.query.Terms, func(t index.Term) bool { return t.Word == "director" || t.Word == "finance" }) {
		t.Errorf("another office is understood as %s", who.standalone)
	}
}

// TestAnotherThingIsAsked has a follow-up that asks something else of the same thing, and
// one that the evidence for the question before does not answer.
func TestAnotherThingIsAsked(t *testing.T) {
	gone := replaced(strings.Fields("what is the gauge of the railway"), strings.Fields("how long is it"))
	if !gone["gauge"] || gone["railway"] {
		t.Errorf("it is not about %v any more", gone)
	}
	if gone := replaced(strings.Fields("what is the gauge of the railway"), strings.Fields("and of the tram")); gone["gauge"] {
		t.Errorf("of another thing the same is asked, and not without %v", gone)
	}
	a := asker(t)
	if got := ask(t, a, "May I take it to my house?", "Does a packet carry a card?"); got.Short == "Yes" {
		t.Errorf("what is not said is affirmed: %s", got.Text)
	}
}
