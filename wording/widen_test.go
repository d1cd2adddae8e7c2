package wording

import (
	"slices"
	"testing"

	"jardinet/index"
	"jardinet/text"
)

// asks widens a question by a lexicon. Words that only carry grammar are no terms,
// and soft ones count for little.
func asks(t testing.TB, l *Lexicon, question string, soft ...string) *Asked {
	t.Helper()
	r := &Ranker{Model: small(t), Lexicons: []*Lexicon{l}}
	q := new(index.Query)
	stemmer := text.NewStemmer("en")
	for _, token := range text.Tokens(question) {
		weight := 1.0
		if slices.Contains(soft, token.Word) {
			weight = 0.25
		}
		if !text.IsFunctionWord(token.Word, "en") {
			q.Terms = append(q.Terms, index.Term{Word: token.Word, Forms: []string{stemmer.Stem(token.Word)}, Weight: weight, IDF: 2})
		}
	}
	return r.Ask(question, "en", q, []text.Language{"en"})
}

func terms(a *Asked) []string {
	var out []string
	for _, t := range a.query.Terms {
		out = append(out, t.Word)
	}
	return out
}

func TestPhrasesMakeTerms(t *testing.T) {
	l := NewLexicon()
	l.Lead("en", 0.7, []string{"get ready", "throw away", "put out", "keep back"}, []string{"prepare"})
	l.Lead("en", 0.7, []string{"can i", "at most"}, []string{"permitted"})
	for _, test := range []struct {
		question string
		soft     []string
		want     []string
	}{
		{"How do I put out a fire?", nil, []string{"put", "fire"}}, // "put" by itself will do
		{"How do I put out a fire?", []string{"put"}, []string{"put", "fire", "put out"}},
		{"How long does it take to get the old engine ready?", nil, []string{"long", "old", "engine", "ready"}},
		{"When do we get the engine ready?", []string{"ready"}, []string{"engine", "ready", "get ready"}},
		{"Throw one very old and quite broken thing away?", []string{"throw", "away"}, []string{"throw", "old", "quite", "broken", "thing", "away"}}, // too far apart
		{"Can I have three at most?", nil, []string{"three"}},                                                                                        // which is how it asks, not what about
	} {
		if got := terms(asks(t, l, test.question, test.soft...)); !slices.Equal(got, test.want) {
			t.Errorf("%q, %v being soft: terms %q, not %q", test.question, test.soft, got, test.want)
		}
	}
}

// A phrase of the documents is told by all of its words, those of grammar too.
func TestPhrasesWithGrammar(t *testing.T) {
	l := NewLexicon()
	l.Group("en", 0.7, "surrender", "hand in")
	a := asks(t, l, "Where do I surrender keys?")
	a.Ready()
	for _, test := range []struct {
		text  string
		alike uint64
	}{{"Keys are handed in on Friday.", 1}, {"Keys in the hand.", 0}, {"The hand that rocks.", 0}} {
		if _, alike := a.Readers()[0].Match(test.text, "en"); alike&1 != test.alike {
			t.Errorf("%q: alike %b", test.text, alike)
		}
	}
	if likes := a.query.Terms[0].Expansions; len(likes) != 1 || likes[0].Form != "hand" || !likes[0].Part {
		t.Errorf("the index is asked for %+v", likes)
	}
}

func TestGrammarAloneIsNoTerm(t *testing.T) {
	l := NewLexicon()
	l.Lead("en", 0.7, []string{"in all", "as of"}, []string{"total"})
	if got := terms(asks(t, l, "How many palms are there in all?")); slices.Contains(got, "in all") {
		t.Errorf("terms %q", got)
	}
}

// Lost property is property; a text that speaks of something lost has half of it.
func TestAPhraseIsNotLikeItsOwnWord(t *testing.T) {
	l := NewLexicon()
	l.Lead("en", 0.7, []string{"lost property"}, []string{"lost", "cloakroom"})
	a := asks(t, l, "Where is the lost property?")
	for k, term := range a.query.Terms {
		if term.Word == "property" && (a.terms[k].like["lost"] != 0 || a.terms[k].like[text.NewStemmer("en").Stem("cloakroom")] == 0) {
			t.Errorf("property is like %v", a.terms[k].like)
		}
	}
}

func TestWhoCameInAYearDidNotComeIn(t *testing.T) {
	terms := func(question string) (out []string) {
		q := index.Query{}
		for _, tok := range text.Tokens(question) {
			if !text.IsFunctionWord(tok.Word, "en") {
				weight := 1.0
				if tok.Word == "came" {
					weight = 0.25 // a soft word
				}
				q.Terms = append(q.Terms, index.Term{Word: tok.Word, Forms: []string{tok.Word}, Weight: weight})
			}
		}
		New().Ask(question, "en", &q, []text.Language{"en"})
		for _, term := range q.Terms {
			out = append(out, term.Word)
		}
		return out
	}
	if got := terms("How many visitors came in 2021?"); slices.Contains(got, "came in") {
		t.Errorf("it asks for %q", got)
	}
	if got := terms("How many visitors came in by the gate?"); !slices.Contains(got, "came in") {
		t.Errorf("it asks for %q and not for those who came in", got)
	}
}
