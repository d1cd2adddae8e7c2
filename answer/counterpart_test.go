package answer

import (
	"slices"
	"testing"

	"jardinet/text"
)

// A finder looks for the words of a question that a thing takes the place of.
type finder func(before, thing phrase) (from, to int, by phrase, ok bool)

// TestCounterparts tries each way to find what a thing takes the place of; an empty want
// is for a thing that takes the place of nothing in that way.
func TestCounterparts(t *testing.T) {
	a := asker(t)
	for _, test := range []struct {
		name          string
		find          finder
		before, thing string
		want          string
	}{
		{"code", sameCode, "what does fault code E4 mean", "E2", "what does fault code E2 mean"},
		{"code", sameCode, "what does fault code E4 mean", "C2", ""},
		{"code", sameCode, "what is product 7 for", "product 13", "what is product 13 for"},
		{"code", sameCode, "when does train 7 leave", "product 13", ""},
		{"code", sameCode, "what happened in 2024", "13", ""},
		{"amount", sameAmount, "who may sign up to £250", "above £25,000", "who may sign above £25,000"},
		{"amount", sameAmount, "who may sign for a year", "above £25,000", ""},
		{"amount", sameAmount, "who may sign up to £250", "the director", ""},
		{"opposite", sameOpposite, "what is the low alarm of the house", "the high one", "what is the high alarm of the house"},
		{"opposite", sameOpposite, "what is the low alarm of the house", "by night in the garden", ""},
		{"head", sameHead, "how long are woody plants kept", "herbaceous plants", "how long are herbaceous plants kept"},
		{"head", sameHead, "how long are woody plants kept", "herbaceous ones", "how long are herbaceous plants kept"},
		{"head", sameHead, "how long are woody plants kept", "the soft cuttings", ""},
		{"name", sameName, "how high is the Palm House", "the Dew House", "how high is the Dew House"},
		{"name", sameName, "when does it leave the Main Gate", "Lakeside", "when does it leave Lakeside"},
		{"name", sameName, "how high is the tower", "the Dew House", ""},
		{"office", sameOffice, "who is the finance director", "the treasurer", "who is the treasurer"},
		{"office", sameOffice, "where is the finance director", "the treasurer", ""},
		{"kind", a.sameKind, "what may a lunch cost", "dinner", "what may a dinner cost"},
		{"kind", a.sameKind, "what may a lunch cost", "the", ""},
		{"for whom", sameBeneficiary, "what does a ticket cost for a family", "members", "what does a ticket cost for members"},
		{"for whom", sameBeneficiary, "what is the ticket for on Sundays", "members", ""},
		{"subject", sameSubject, "how long are woody plants kept", "cuttings", "how long are cuttings kept"},
		{"subject", sameSubject, "what is the gauge of the railway", "the tram", "what is the gauge of the tram"},
		{"deed", otherDeed, "how is the Orchid House watered", "fed", "how is the Orchid House fed"},
		{"deed", otherDeed, "how is the Orchid House", "fed", ""},
		{"measure", otherMeasure, "what is the mean of chlorine in the water", "the highest", "what is the highest of chlorine in the water"},
		{"attribute", a.otherAttribute, "what is the night minimum of the Arid House", "the vents", "what is the vents of the Arid House"},
		{"attribute", a.otherAttribute, "what is the night minimum of the Arid House", "the Dew House", ""},
		{"attribute", a.otherAttribute, "what is the gauge of the railway", "the tram", ""},
		{"measure", otherMeasure, "how much chlorine is in the water", "the highest", ""},
	} {
		before, got := phraseOf(test.before), ""
		if from, to, by, ok := test.find(before, phraseOf(test.thing)); ok {
			got = before.with(from, to, by).String()
		}
		if got != test.want {
			t.Errorf("%s: %q after %q: %q, want %q", test.name, test.thing, test.before, got, test.want)
		}
	}
}

// TestWhatAQuestionIsAbout has the things that a pronoun may point at.
func TestWhatAQuestionIsAbout(t *testing.T) {
	for _, test := range []struct {
		question, kind, want string
		named                bool
	}{
		{"When was the Trust founded", "thing", "the Trust", false}, // whoever asks, it is about the Trust
		{"Where is store C3", "thing", "store C3", true},
		{"Which form do I fill in after an accident", "thing", "the form", false},
		{"How often do gardeners attend the course", "things", "the gardeners", false},
		{"How tall is P012", "thing", "P012", true},
		{"How long are woody plants kept", "things", "the woody plants", false},
		{"How long are woody plants kept", "thing", "", false},
		{"What is the gauge of the railway", "thing", "the railway", false},
		{"Who may apply product 13", "thing", "product 13", true},
		{"How cold is the cold store", "place", "the cold store", false},
		{"How many may stay in the Palm House", "place", "the Palm House", true},
		{"Who is Carys Whitlock", "person", "Carys Whitlock", true},
		{"Who founded the Trust", "person", "", false},
		{"How many bottles of gas may there be", "things", "the bottles of gas", false},
		{"What does a ticket cost for a child", "thing", "the ticket", false},
		{"When is the Palm House open", "thing", "the Palm House", true},
		{"What must I do", "thing", "", false},
		{"", "thing", "", false},
	} {
		thing, named, ok := antecedent(phraseOf(test.question), test.kind)
		if got := thing.String(); got != test.want || ok != (test.want != "") || ok && named != test.named {
			t.Errorf("%q is about the %s %q, a name %v; want %q, %v", test.question, test.kind, got, named, test.want, test.named)
		}
	}
}

func TestTheYearBefore(t *testing.T) {
	said := []earlier{{phraseOf("How many visitors came in 2025"), false}, {phraseOf("And from abroad"), true}}
	for question, want := range map[string]string{
		"And the year before?": "And in 2024?", "How many in the following year?": "How many in 2026?", "And a year earlier?": "And in 2024?",
		"And in 2019, the year before?": "And in 2019, the year before?", "And on Sundays?": "And on Sundays?",
	} {
		if got, _ := inYear(question, said); got != want {
			t.Errorf("%q is %q, want %q", question, got, want)
		}
	}
	if got, relative := inYear("And the year before?", nil); relative || got != "And the year before?" {
		t.Errorf("without a year it is %q", got)
	}
}

// TestWordsPutInWeighLess has a name put in, which weighs as much as what the follow-up
// says, and a word that does not.
func TestWordsPutInWeighLess(t *testing.T) {
	a := asker(t)
	weights := func(asked string, after ...string) map[string]float64 {
		out := map[string]float64{}
		for _, term := range a.analyse(asked, after).query.Terms {
			out[term.Word] = term.Weight
		}
		return out
	}
	if got := weights("And in the Orchid House?", "What is the night minimum in the Dew House?"); got["orchid"] != 1 || got["night"] != carried || got["dew"] != 0 {
		t.Errorf("another house: %v", got)
	}
	if got := weights("Since when has she had that post?", "Who is Ilse Brandvold?"); got["brandvold"] != 1 || got["post"] > softWeight {
		t.Errorf("what is only pointed at: %v", got)
	}
	if got := weights("What is the night minimum in the Dew House?"); got["night"] != 1 {
		t.Errorf("the first question: %v", got)
	}
}

// TestTheAnswerBefore has follow-ups that speak of what the question before was answered by.
func TestTheAnswerBefore(t *testing.T) {
	a := asker(t)
	for _, test := range []struct {
		asked string
		after []string
		want  string
	}{
		{"How warm is it?", []string{"Which house has the lowest night minimum?"}, "How warm is Dew House?"},
		{"For what is she answerable?", []string{"Who is the Vault Keeper?"}, "For what is Dr Ilse Brandvold answerable?"},
		{"How warm is it?", []string{"What is the night minimum in the Dew House?"}, ""},
		{"How warm is the lawn?", []string{"Who is the Vault Keeper?"}, ""},
		{"Is it allowed?", []string{"Who is the Vault Keeper?"}, ""},
		{"How warm is it?", nil, ""},
	} {
		got, err := a.spokenOf(t.Context(), test.asked, test.after)
		if err != nil || got != test.want {
			t.Errorf("%s after %q: %q, %v; want %q", test.asked, test.after, got, err, test.want)
		}
	}
}

func TestTheSurerReading(t *testing.T) {
	none, bare, short := &Answer{State: NotFound, Confidence: 0.9}, &Answer{State: Answered, Confidence: 0.9}, &Answer{State: Answered, Short: "12 °C", Confidence: 0.6}
	surer := &Answer{State: Answered, Short: "14 °C", Confidence: 0.7}
	for _, test := range []struct {
		a, b *Answer
		want bool
	}{{bare, none, true}, {none, bare, false}, {none, none, false}, {short, bare, true}, {bare, short, false}, {surer, short, true}, {short, surer, false}} {
		if got := test.a.better(test.b); got != test.want {
			t.Errorf("%+v is better than %+v: %v", test.a, test.b, got)
		}
	}
}

func TestAmountsBeyondOne(t *testing.T) {
	for question, want := range map[string]float64{"Who signs above £25,000?": 25000 + justMore, "Who signs up to £25,000?": 25000, "Who signs for more than 20 kg?": 20 + justMore} {
		got := amountsOf(question)
		if len(got) != 1 || got[0].value != want {
			t.Errorf("%s: %v, want %v", question, got, want)
		}
	}
	a := asker(t)
	q := a.analyse("Who may sign for £20,000?", nil)
	a.Index.Prepare(&q.query)
	if m := newMatcher(q, nil); m.amount == 0 {
		t.Error("the sum is no term of its own")
	}
	if m := newMatcher(a.analyse("What is extension 200?", nil), nil); m.amount != 0 {
		t.Error("an extension is taken for a sum")
	}
}

func TestMoreOfCounting(t *testing.T) {
	stemmer := text.NewStemmer("en")
	for _, test := range []struct {
		sentence, counted string
		want              bool
	}{
		{"Members made 31 per cent of all visits; membership rose to 21,350.", "member", true},
		{"Gas, gigawatt hours · 2024: 7.6 · 2025: 7.2", "hour", true},
		{"Pitcher plants · Palm House: 0 · Nepenthes House: 83", "plant", true},
		{"Up to ten plants of any kind at all · Fee £: 2.00", "kind", false},
	} {
		if got := counts(test.sentence, map[string]bool{test.counted: true}, stemmer); got != test.want {
			t.Errorf("%q counts %s: %v", test.sentence, test.counted, got)
		}
	}
	for question, want := range map[string]string{
		"how many germination tests passed in spring": "tests", "how many people fit into a coach": "", "how many gas bottles may there be": "bottles", "how many glass panes broke": "panes", "how many days of leave are there": "days",
	} {
		if got := countedOf(question, "en"); got != want {
			t.Errorf("%s counts %q, want %q", question, got, want)
		}
	}
}

func TestPartsHaveSides(t *testing.T) {
	got := questionsOf(eachSide([]Part{{Question: "What was burnt in 2019 and in 2025?", after: []string{"x"}}, {Question: "Why?"}}))
	if want := []string{"What was burnt in 2019?", "What was burnt in 2025?", "Why?"}; !slices.Equal(got, want) {
		t.Errorf("the sides are %q", got)
	}
}
