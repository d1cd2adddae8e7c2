package answer

import (
	"math/rand/v2"
	"strings"
	"testing"
)

func TestFollowUpsAreWrittenOut(t *testing.T) {
	a := asker(t)
	for _, test := range []struct {
		want string
		said []string // the last is asked
	}{
		{"What does the fault code E2 mean?", []string{"What does the fault code E4 mean?", "And E2?"}},
		{"Who is product 13 for?", []string{"Who is product 7 for?", "And product 13?"}},
		{"What is the extension of Carys Whitlock?", []string{"Who is Carys Whitlock?", "What is her extension?"}},
		{"Who keeps store C3?", []string{"Where is store C3?", "What does it hold?", "Who keeps it?"}},
		{"How high is the Dew House?", []string{"How is the Dew House watered?", "How many visitors may go in?", "And how high is it?"}},
		{"By whom was the Trust founded?", []string{"When was the Trust founded?", "By whom?"}},
		{"How long are herbaceous plants kept in quarantine?", []string{"How long are woody plants kept in quarantine?", "And herbaceous ones?"}},
		{"How long are cuttings kept in quarantine?", []string{"How long are woody plants kept in quarantine?", "What about cuttings?"}},
		{"How many coaches can Tansy pull?", []string{"How much does Old Marchbank weigh?", "How many coaches can she pull?", "And Tansy?"}},
		{"How many people may be in the Alpine House?", []string{"How many people may be in the Palm House?", "And in the Alpine House?"}},
		{"May I bring my dog on the train?", []string{"May I bring my dog?", "And into the restaurant?", "And on the train?"}},
		{"What does a return ticket cost for an adult?", []string{"What does a single ticket cost for an adult?", "And return?"}},
		{"What happened to P012?", []string{"How tall is P012?", "When was it planted?", "What happened to it?"}},
		{"How long is the railway?", []string{"What is the gauge of the railway?", "How long is it?"}},
		{"How many visitors came in 2024?", []string{"How many visitors came in 2025?", "And in 2024?"}},
		{"Who is the treasurer?", []string{"Who is the finance director?", "And the treasurer?"}},
		{"What is the temperature in the Palm House?", []string{"What is the humidity in the Palm House?", "And the temperature?"}},
		{"Which houses are open?", []string{"Which houses are open?"}},
		{"How long may I stay in the cold store?", []string{"How cold is the cold store?", "How long may I stay there?"}},
		{"How long are cuttings kept?", []string{"How long were cuttings kept in 2021?", "How long are they now?"}},
		{"How long is written warning kept?", []string{"How long is a spoken warning kept?", "And how long a written one?"}},
		{"How is the Orchid House fed?", []string{"How is the Orchid House watered?", "And fed?"}},
		{"How many visitors came in 2024?", []string{"How many visitors came in 2025?", "And the year before?"}},
		{"Who may sign above £25,000?", []string{"Who may sign up to £250?", "And above £25,000?"}},
		{"Which stations has the railway?", []string{"How many stations has the railway?", "Which ones?"}},
		{"By whom are the boilers serviced?", []string{"When are the boilers serviced?", "Who does that?"}},
		{"How many tests passed in the third quarter?", []string{"How many tests passed in the first quarter?", "And in the third?"}},
		{"How many visitors may be in the Dew House at once?", []string{"How many visitors may be in the Palm House at once?", "And in the Dew House?"}},
		{"How heavy is each of the bottles of gas?", []string{"How many bottles of gas may there be?", "How heavy is each?"}},
		{"How much at most of store C3?", []string{"Where is store C3?", "How much at most?"}},
		{"What is the highest of chlorine in the water?", []string{"What is the mean of chlorine in the water?", "And the highest?"}},
		{"How long is the re-entry time of product 13?", []string{"What is product 13?", "Who may apply it?", "How long is its re-entry time?"}},
		{"Is there a code E6?", []string{"What does code E4 mean?", "Is there a code E6?"}},
		{"How long does it take?", []string{"How do I light the fire?", "How long does it take?"}},
		{"How many tests failed in the second quarter?", []string{"How many tests were made in the second quarter?", "How many failed?"}},
		{"What is the high alarm of the Palm House?", []string{"What is the alarm of the Palm House?", "And the high one?"}},
		{"How long are bulbs kept in quarantine?", []string{"How long is woody material kept in quarantine?", "And bulbs?"}},
		{"What does a child pay?", []string{"What does an adult pay?", "And a child?"}},
		{"What is the night minimum for the Dew House?", []string{"What is the night minimum of the Palm House?", "And what is it for the Dew House?"}},
		{"Who may sign over £25,000?", []string{"Who may sign for £2,000?", "And if it is over £25,000?"}},
		{"What if the table has a header?", []string{"How do I read a table from a file in R?", "What if it has a header?"}},
		{"How do I start upsd?", []string{"Which port does upsd listen on?", "How do I start it?"}},
		{"What does the letter c mean?", []string{"What does the letter a mean?", "And c?"}},
		{"What is the use of an hour?", []string{"What is the use of an hour?"}},
		{"What if the radio fails?", []string{"Which channel is for trains?", "What if the radio fails?"}},
	} {
		last := len(test.said) - 1
		got, _ := a.written(test.said[last], a.history(test.said[:last]))
		if got == "" {
			got = test.said[last]
		}
		if got != test.want {
			t.Errorf("%q: %q, want %q", test.said, got, test.want)
		}
	}
}

// TestAQuestionThatMayStandByItself is read in both ways, and what is said of it by itself
// is taken where that is the surer.
func TestAQuestionThatMayStandByItself(t *testing.T) {
	a := asker(t)
	before := []string{"Who may bring a dog?"}
	for question, want := range map[string]bool{"What is the night minimum?": true, "Who signs for it?": false, "And in the Dew House?": false, "What do I do then?": false, "How often?": false} {
		if got := a.analyse(question, before).eitherWay; got != want {
			t.Errorf("%s may stand by itself: %v", question, got)
		}
	}
	if a.analyse("What is the night minimum?", nil).eitherWay {
		t.Error("the first question of a conversation leans on nothing")
	}
	got := ask(t, a, "How long may seed stay out?", "Where are dogs allowed?")
	if got.Short != "Four hours" {
		t.Errorf("it says %q, understood as %s", got.Text, got.Standalone)
	}
}

// TestShortAnswersOfOneClause picks figures that share their sentence with others.
func TestShortAnswersOfOneClause(t *testing.T) {
	a := asker(t)
	for _, test := range []struct{ question, sentence, want string }{
		{"How much notice must I give after three years?", "Notice is one month in the first two years and three months after that.", "three months"},
		{"How much notice must I give?", "Notice is one month in the first two years and three months after that.", "one month"},
		{"How long had the pump been running?", "The pump stopped after three hours and five minutes.", "three hours and five minutes"},
		{"How much did gifts bring?", "Admissions brought £3.21 million, gifts and legacies £0.57 million and grants £0.25 million.", "£0.57 million"},
		{"How many hours did the volunteers give?", "I thank the 623 volunteers, whose hours, 71,400 of them, would have cost us much.", "71,400"},
		{"How steep is the line?", "The steepest gradient is 1 in 52, between the lake and the wood.", "1 in 52"},
		{"How old is the house?", "It was built in 1934, covers 520 square metres and is 9 metres high.", "1934"},
		{"When is pay day?", "Pay reaches your account on the 26th, or on the working day before.", "on the 26th"},
		{"When do I need a note?", "For the first seven days you certify yourself; from the eighth day a note is needed.", "from the eighth day"},
		{"When was the bridge open again?", "It was rebuilt after the storm of January 2025 and reopened on 11 April 2025.", "11 April 2025"},
		{"What is the limit of germs?", "One of 48 samples was above the limit of 100 germs a litre.", "100"},
		{"What is the humidity in the cold store?", "Cold store · Temperature °C: −20 · Relative humidity %: not controlled", "Not controlled"},
		{"How many accessions of orchids are there?", "Orchids · Orchid House: 614 · Kinds in all: 694 · Accessions: 1,806", "1,806"},
		{"What does store C3 hold?", "C3 · Place: Boiler house yard · Holds: acids · Most: 60 litres", "acids"},
	} {
		q := a.analyse(test.question, nil)
		soften(&q.query, foldedQuestion(test.question))
		a.Index.Prepare(&q.query)
		if got := short(q, newMatcher(q, nil), test.sentence, "en"); got != test.want {
			t.Errorf("%s, %q: %q, want %q", test.question, test.sentence, got, test.want)
		}
	}
}

// TestAnyConversationCanBeRead puts words together at random: whatever people write, it has
// to be read, and soon.
func TestAnyConversationCanBeRead(t *testing.T) {
	a := asker(t)
	vocabulary := strings.Fields("the a my and but what about how many much long which who whom when where why is are was were does may must can not it its they them he her there then that those each one ones in at for of from to above up between before after seed store Palm House Dew C3 E4 13 2024 £200 £25,000 train kept built founded watered cost mean hold open first last other same high low year before too ? , . – (")
	random := rand.New(rand.NewPCG(7, 11))
	sentence := func() string {
		var words []string
		for range random.IntN(9) {
			words = append(words, vocabulary[random.IntN(len(vocabulary))])
		}
		return strings.Join(words, " ")
	}
	for range 3000 {
		var said []string
		for range random.IntN(4) {
			said = append(said, sentence())
		}
		question := sentence()
		q := a.analyse(question, said)
		if strings.Contains(q.standalone, "\n") || parts(question) != nil && len(parts(question)) < 2 {
			t.Errorf("%q after %q is understood as %q", question, said, q.standalone)
		}
		if c := contestOf(question); c != nil {
			c.parts()
		}
	}
	long := make([]string, 200)
	for i := range long {
		long[i] = "And in the Dew House?"
	}
	if q := a.analyse("And how high is it?", long); q.standalone == "" {
		t.Error("a long conversation is not understood")
	}
}
