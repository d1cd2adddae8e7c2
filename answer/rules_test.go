package answer

import (
	"slices"
	"strings"
	"testing"

	"jardinet/index"
	"jardinet/rank"
	"jardinet/text"
	"jardinet/wording"
)

// questionOf makes a question of its words, each worth the same.
func questionOf(s string) *question {
	folded := foldedQuestion(s)
	q := &question{standalone: s, language: "en", want: wantOf(s), kind: kindOf(folded)}
	q.attribute, q.byVerb = attributeOf(folded)
	q.units, q.named = dimensionOf(folded)
	stemmer := text.NewStemmer("en")
	if counted := countedOf(folded, "en"); counted != "" && q.units == nil {
		q.counted = stemmer.Stem(counted)
	}
	for _, t := range text.Tokens(s) {
		if !text.IsFunctionWord(t.Word, "en") {
			q.query.Terms = append(q.query.Terms, index.Term{Word: t.Word, Forms: []string{stemmer.Stem(t.Word)}, Weight: 1, IDF: 2})
		}
	}
	return q
}

func TestShortPicksTheRightSpan(t *testing.T) {
	tests := []struct{ question, sentence, want string }{
		{"How many panes were broken?", "In the night of 23 January the gust broke 412 panes in five houses.", "412"},
		{"How long does a round take?", "A round of nine houses takes about 70 minutes.", "70 minutes"},
		{"How long may seed stay out?", "Seed may stay out for no longer than four hours.", "four hours"},
		{"What is the set point of the store?", "The set point of the cold store is −20 °C with a tolerance of two degrees.", "−20 °C"},
		{"What does a ticket cost?", "A return ticket costs £5.50 for an adult.", "£5.50"},
		{"What is the speed limit at the crossing?", "Lakeside level crossing · Limit km/h: 8", "8 km/h"},
		{"When did it reopen?", "It was rebuilt after the storm of January 2025 and reopened on 11 April 2025.", "11 April 2025"},
		{"Who holds the keys?", "Keys are held by the keeper, the senior technician and the duty officer, and by nobody else.", "the keeper, the senior technician and the duty officer"},
		{"Who is the keeper?", "The keeper of the vault is Dr Ilse Brandvold.", "Dr Ilse Brandvold"},
		{"How heavy is Bryony?", "Bryony · Kind: diesel · Built: 1967 · Weight t: 7.5", "7.5 t"},
		{"What is the default value?", "The default value is 17, necessary for restoring IEEE-754 values.", "17"},
		{"How many cells were counted at most?", "At most 2.4 × 10⁶ cells/ml were counted.", "2.4 × 10⁶ cells/ml"},
		{"How big is the house?", "It covers 210 square metres and is 6 metres high.", "210 square metres"},
		{"What did energy cost?", "Staff cost £4.36 million, energy cost £0.69 million.", "£0.69 million"},
		{"How many people fit into a coach?", "On 6 August a hand was caught in a coach door.", ""},
		{"How many people fit into a coach?", "Since August 6 a coach takes 16 people.", "16 people"},
		{"Who inspects the lift?", "The lift in the Palm House is inspected by an outside examiner.", "an outside examiner"},
		{"Who decides?", "The agreement of the Director is needed.", "the Director"},
		{"Who reports it?", "The Head of Plant Health reports it.", "The Head of Plant Health"},
		{"How long are cards kept?", "Cards are kept for ever.", "for ever"},
		{"How much sulphur is in store C2?", "3 · Product: Sulphur · Store: C1 · Kilograms: 12", "12"},
		{"How many tests failed?", "Second · Tests: 131 · Passed: 117 · Failed: 14", "14"},
		{"How much lead was found at most?", "Lead · Mean: 1.1 · Highest: 2.0", "2.0"},
		{"Where is store C6?", "C6 · Place: Estates workshop · Holds: Paints", "Estates workshop"},
		{"Which product is used against moss?", "11 · Product: Acetic acid · Against: moss", "Acetic acid"},
		{"Which station is used?", "11 · Product: Acetic acid · Against: moss", ""},
		{"Describe the vault", "The vault lies 6 metres below ground.", ""},
	}
	for _, test := range tests {
		q := questionOf(test.question)
		if got := short(q, newMatcher(q, nil), test.sentence, "en"); got != test.want {
			t.Errorf("%s — %s: %q, want %q", test.question, test.sentence, got, test.want)
		}
	}
}

func TestRefersBack(t *testing.T) {
	terms := make([]index.Term, 3)
	for question, want := range map[string]bool{
		"what happens to a packet that was out for longer": false, "who checks that": true, "is that allowed in the store": true,
		"and in the orchid house": true, "who holds the keys to it": true, "what is the default if neither is given": true,
		"what is the night minimum in the dew house": false,
	} {
		if got := refersBack(question, terms, text.English); got != want {
			t.Errorf("%q refers back: %v", question, got)
		}
	}
}

func TestReplaced(t *testing.T) {
	tests := []struct {
		earlier, later string
		gone, kept     string
	}{
		{"what is the night minimum in the dew house", "and in the orchid house", "dew", "minimum"},
		{"what does a ticket cost for an adult", "and for a child", "adult", "ticket"},
		{"how do i add a principal to the database", "and how do i delete one", "add", "principal"},
		{"what is the night minimum in the dew house", "and by day", "night", "dew"},
		{"can i carry some over", "until when must i take them", "", "carry"}, // no deed for another
		{"what is the estimated cost of the bridge", "how much of that was insured", "", "bridge"},
		{"how long are woody plants kept in quarantine", "what about cuttings", "woody", "quarantine"},
		{"when was tansy built", "and bryony", "tansy", "built"},
		{"how many panes broke in the alpine house", "and the arid house", "alpine", "panes"},
		{"when was the dew house built", "and in the orchid house", "dew", "built"},
		{"how is work on a public holiday paid", "and at a weekend", "holiday", "paid"},
		{"what is product 2 used against", "and how is it stored", "", "product"},
	}
	for _, test := range tests {
		got := replaced(strings.Fields(test.earlier), strings.Fields(test.later))
		if test.gone != "" && !got[test.gone] || got[test.kept] {
			t.Errorf("%q after %q replaces %v", test.later, test.earlier, got)
		}
	}
}

func TestAttribute(t *testing.T) {
	for question, want := range map[string]string{
		"What colour are the seats?": "colour", "What is the salary of the Director?": "salary", "What is the boiling point of nitrogen?": "point",
		"Which station has a loop?": "station", "How many seats are there?": "", "Who is it?": "", "When was the vault last broken into?": "broken",
		"How many trees were planted in May?": "planted", "How many cacti flowered in 2025?": "flowered", "Who trains the guards?": "trains", "When was he born?": "born",
	} {
		if got, _ := attributeOf(foldedQuestion(question)); got != want {
			t.Errorf("%s asks for %q, want %q", question, got, want)
		}
	}
}

func TestListing(t *testing.T) {
	for s, want := range map[string]bool{
		"The default is 79 by 24, and the last newline is printed only if asked for.":             false,
		"set terminal dumb {size <xchars>,<ychars>} {[no]feed} {aspect <htic>{,<vtic>}}":          true,
		"x(1, :) = [] ⇒ x = { [1,1] = 3 [1,2] = 4 }":                                              true,
		"On 23 January 2025 at 03:20 a gust of 134 km/h broke 412 panes and threw 63 tall trees.": false,
	} {
		if got := isListing(s); got != want {
			t.Errorf("isListing(%q) = %v", s, got)
		}
	}
}

func TestRepeats(t *testing.T) {
	chosen := []evidence{{text: "Woody plants are held for 90 days."}}
	for s, want := range map[string]bool{
		"Woody plants are held for 90 days in all.": true, "Woody plants are held for 180 days.": false, "Orchids in flask are released early.": false,
	} {
		if got := repeats(chosen, evidence{text: s}); got != want {
			t.Errorf("%q repeats: %v", s, got)
		}
	}
}

func TestYesOrNo(t *testing.T) {
	for _, test := range []struct {
		question, sentence string
		language           text.Language
		want               string
	}{
		{"Are dogs allowed?", "Dogs are not allowed in the houses.", "en", "No"}, {"Do dogs ride?", "Dogs ride on the floor.", "en", "Yes"},
		{"May I smoke?", "Smoking is prohibited.", "en", "No"}, {"Is a card required?", "The card is optional.", "en", "No"},
		{"Can I show a card?", "Cards are optional.", "en", "Yes"}, {"Les chiens sont-ils admis ?", "Les chiens ne sont pas admis.", "fr", "Non"},
		{"Les chiens sont-ils admis ?", "Les chiens sont admis.", "fr", "Oui"}, {"Darf man rauchen?", "Das ist verboten.", "de", "Nein"},
		{"Dürfen Hunde hinein?", "Hunde sind erlaubt.", "de", "Ja"}, {"May I have a barbecue?", "Les barbecues sont interdits partout.", "en", "No"},
	} {
		if got := yesOrNo(&question{standalone: test.question, language: test.language}, test.sentence); got != test.want {
			t.Errorf("%q — %q is %s, want %s", test.question, test.sentence, got, test.want)
		}
	}
}

func TestUnitOfAColumn(t *testing.T) {
	for _, test := range [][3]string{
		{"Night minimum °C", "12", "12 °C"}, {"Single £", "2.00", "£2.00"}, {"Weight t", "7.5", "7.5 t"}, {"Day °C", "15 to 19", "15 to 19"},
		{"Pages", "40", "40"}, {"Limit", "at least 5", "at least 5"}, {"Low alarm °C", "−3", "−3 °C"}, {"Visitors a year, in thousands", "228.0", "228.0 (in thousands)"},
	} {
		if got := withUnit(test[0], test[1]); got != test[2] {
			t.Errorf("under %q, %q becomes %q, want %q", test[0], test[1], got, test[2])
		}
	}
}

func TestListAround(t *testing.T) {
	p := made(0, []string{"Steps", "Do this in order:", "1. First.", "2. Second.", "Then rest."}, "en")
	for at, want := range map[int]int{0: 3, 1: 3, 2: 3, 3: 0} {
		if got := len(listAround(evidence{sentence: at}, p)); got != want {
			t.Errorf("around sentence %d the list has %d parts, want %d", at, got, want)
		}
	}
}

func TestOtherRows(t *testing.T) {
	q := questionOf("How many plants were lost in the Orchid House?")
	m := newMatcher(q, nil)
	for row, other := range map[string]bool{
		"Orchid House · Panes: 74 · Plants lost: 112": false, "Arid Zone · Panes: 31 · Plants lost: 7": true, "Together · Plants lost: 160": false,
	} {
		if got := m.otherRow(row, "en"); got != other {
			t.Errorf("%q is another row: %v", row, got)
		}
	}
}

func TestSuperseded(t *testing.T) {
	candidates := []Candidate{
		{DocumentID: "old", Document: Document{Title: "Policy, 2021 edition"}}, {DocumentID: "new", Document: Document{Title: "Policy, 2024 edition"}},
		{DocumentID: "other", Document: Document{Title: "Report 2020"}},
	}
	for question, want := range map[string][]string{
		"How long is it?": {"old"}, "How long was it in the 2021 policy?": {"new"}, "What did the previous policy say?": {}, "What about 2024?": {"old"},
	} {
		q := questionOf(question)
		var got []string
		for id := range superseded(q, candidates) {
			got = append(got, id)
		}
		slices.Sort(got)
		if !slices.Equal(got, want) && len(got)+len(want) > 0 {
			t.Errorf("%s: superseded are %v, want %v", question, got, want)
		}
	}
	compare := questionOf("How do the editions differ?")
	compare.compare = true
	if got := superseded(compare, candidates); len(got) != 0 {
		t.Errorf("in a comparison %v are superseded", got)
	}
}

func TestNeighboursOfRowsDoNotCount(t *testing.T) {
	p := made(0, []string{"T", "Palm House · Night: 17", "Dew House · Night: 12", "A sentence.", "Another one."}, "en")
	spans := []wording.Span{{Exact: 1}, {Exact: 2}, {Exact: 4}, {Exact: 8}}
	for i, want := range []uint64{0, 0, 8, 4} {
		if got := beside(p, spans, i, func(wording.Span) {}).exact; got != want {
			t.Errorf("beside sentence %d stand %b, want %b", i, got, want)
		}
	}
}

func TestEmptyCollection(t *testing.T) {
	x, err := index.Open(t.TempDir(), index.Space{})
	if err != nil {
		t.Fatal(err)
	}
	a := &Asker{Index: x, Rank: rank.New(), Wording: wording.New(), Document: func(string) (Document, bool) { return Document{}, false }}
	got := ask(t, a, "Is there anything?")
	if got.State != NotFound || got.Text == "" || got.Statements == nil || got.Citations == nil || got.Nearest == nil {
		t.Errorf("an empty collection answers %+v", got)
	}
}

func TestRemovedDocumentsAreSkipped(t *testing.T) {
	a := asker(t)
	a.Document = func(key string) (Document, bool) { return Document{Name: key}, key != "vault.pdf" }
	for _, c := range ask(t, a, "How long may seed stay out of the cold store?").Citations {
		if c.Document == "vault.pdf" {
			t.Error("a document that was just removed is cited")
		}
	}
}
