package rank

import (
	"strings"
	"testing"

	"jardinet/embed"
	"jardinet/index"
	"jardinet/passage"
	"jardinet/text"
)

// small is a model in which a furnace is near an incinerator and far from a
// fern.
func small(t testing.TB) *embed.Model {
	t.Helper()
	data := embed.Encode([]string{"fern", "furnace", "incinerator", "water"},
		[]float32{0, 1, 0, 1, 0, 0, 0.95, 0.1, 0, 0, 0.9, 0.4}, 3, nil)
	m, err := embed.Decode(data)
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// order searches texts, one a document, and returns the keys in their order.
func order(t testing.TB, r *Ranker, question string, language text.Language, texts map[string]string) []string {
	t.Helper()
	x, err := index.Open(t.TempDir(), index.Space{Model: "small", Dimensions: r.Model.Dimensions})
	if err != nil {
		t.Fatal(err)
	}
	e := r.Model.NewEmbedder()
	var docs []index.Document
	for key, body := range texts {
		p := passage.Passage{Text: body, Language: "en"}
		stored, err := passage.Encode(&p)
		if err != nil {
			t.Fatal(err)
		}
		vector := make([]float32, r.Model.Dimensions)
		e.Embed(vector, text.Tokens(body), "en")
		docs = append(docs, index.Document{Key: key, Passages: []index.Passage{{Body: body, Language: "en", Stored: stored, Vector: vector}}})
	}
	if err := x.Apply(docs, nil); err != nil {
		t.Fatal(err)
	}
	q := x.Parse(question)
	a := r.Ask(question, language, &q, x.Languages())
	q.Vector = a.Vector()
	hits, err := x.Search(t.Context(), &q, 10)
	if err != nil {
		t.Fatal(err)
	}
	var found []Candidate
	for _, h := range hits {
		stored, err := h.Stored()
		if err != nil {
			t.Fatal(err)
		}
		p, err := passage.Decode(stored)
		if err != nil {
			t.Fatal(err)
		}
		found = append(found, Candidate{Hit: h, Passage: p})
	}
	a.Ready()
	r.Order(a, found)
	var keys []string
	for _, c := range found {
		keys = append(keys, c.Hit.Key)
	}
	return keys
}

func first(keys []string) string {
	if len(keys) == 0 {
		return ""
	}
	return keys[0]
}

func TestLikeMeaningComesFirst(t *testing.T) {
	r := &Ranker{Model: small(t), Lexicons: []*Lexicon{NewLexicon()}, Weights: DefaultWeights()}
	texts := map[string]string{"fern": "Feed the fern.", "fire": "The incinerator is lit at six."}
	if got := order(t, r, "When is the furnace hot?", "en", texts); first(got) != "fire" {
		t.Errorf("by vectors: %v", got)
	}
	texts["word"] = "The furnace is lit at six."
	if got := order(t, r, "When is the furnace hot?", "en", texts); first(got) != "word" {
		t.Errorf("the word itself: %v", got)
	}
}

func TestLexiconFindsOtherWords(t *testing.T) {
	texts := map[string]string{
		"leave":  "Employees are entitled to 26 days of annual leave.",
		"valve":  "The valve is closed at night.",
		"pay":    "Salaries are credited on the 25th.",
		"ladder": "Ladders are inspected before each use.",
		"seed":   "Seed is kept at minus eighteen degrees.",
	}
	r := New()
	for _, test := range []struct {
		question, want string
		language       text.Language
	}{
		{"How much vacation do I get?", "leave", "en"},
		{"How much time off may I take?", "leave", "en"},
		{"When do wages arrive?", "pay", "en"},
		{"Wie viele Urlaubstage habe ich?", "leave", "de"},
		{"Quel jour les salaires sont-ils versés ?", "pay", "fr"},
	} {
		if got := order(t, r, test.question, test.language, texts); first(got) != test.want {
			t.Errorf("%q finds %v", test.question, got)
		}
	}
}

func TestOwnLexicon(t *testing.T) {
	texts := map[string]string{
		"ssi":   "Standing Safety Instruction 4 is read aloud.",
		"glass": "The glasshouse panes are cleaned.",
		"other": "The instruction manual of the pump is kept in the safety cabinet, standing up.",
	}
	own := NewLexicon()
	own.Group("en", 1, "SSI", "Standing Safety Instruction")
	if got := order(t, New(own), "Who reads the SSI?", "en", texts); first(got) != "ssi" {
		t.Errorf("an abbreviation finds %v", got)
	}
	never := NewLexicon()
	never.Group("en", 1, "frames", "panes")
	never.Never("en", "frames", "panes")
	q := index.Query{Terms: []index.Term{{Word: "frames", Forms: []string{"frame"}, Weight: 1}}}
	New(never).Ask("frames", "en", &q, []text.Language{"en"})
	for _, a := range q.Terms[0].Alike {
		if a.Form == "pane" {
			t.Error("words that never match are taken for alike")
		}
	}
}

func TestCompounds(t *testing.T) {
	stemmer := text.NewStemmer("de")
	for word, want := range map[string]string{"urlaubstage": "leave", "jahresurlaub": "holiday", "rollstuhlverleih": "wheelchair"} {
		found := false
		for _, like := range Default().find(stemmer, "de", []string{word}) {
			found = found || like.Words[0] == want
		}
		if !found {
			t.Errorf("%s is not like %s", word, want)
		}
	}
	if got := Default().find(stemmer, "de", []string{"xyzzyplugh"}); got != nil {
		t.Errorf("a word without parts is like %v", got)
	}
}

func TestNothing(t *testing.T) {
	r := New()
	q := index.Query{}
	a := r.Ask("", "en", &q, nil)
	a.Ready()
	r.Order(a, nil)
	c := []Candidate{{Passage: &passage.Passage{}}}
	r.Order(a, c)
	if c[0].Score != c[0].Score {
		t.Error("the score of nothing is not a number")
	}
}

func BenchmarkOrder(b *testing.B) {
	r := New()
	question := "Which furnace pressure is written in the evening by a visitor?"
	q := index.Query{}
	for _, w := range []string{"furnace", "pressure", "evening", "visitor"} {
		q.Terms = append(q.Terms, index.Term{Word: w, Forms: []string{w}, Weight: 1, IDF: 3})
	}
	a := r.Ask(question, "en", &q, []text.Language{"en"})
	candidates := make([]Candidate, 100)
	for i := range candidates {
		candidates[i].Passage = &passage.Passage{Language: "en", Text: strings.Repeat("The duty officer closes the valve and writes the reading into the humidity log before the gates open. ", 8)}
	}
	a.Ready()
	b.ReportAllocs()
	for b.Loop() {
		r.Order(a, candidates)
	}
}

func TestLeadGoesOneWay(t *testing.T) {
	l := NewLexicon()
	l.Lead("en", groupWeight, []string{"sandwich", "packed lunch"}, []string{"food", "meals"})
	stemmer := text.NewStemmer("en")
	if got := l.find(stemmer, "en", []string{"packed", "lunch"}); len(got) != 2 || got[0].Words[0] != "food" {
		t.Errorf("a packed lunch is alike to %v", got)
	}
	if got := l.find(stemmer, "en", []string{"food"}); got != nil {
		t.Errorf("food is alike to %v", got)
	}
}
