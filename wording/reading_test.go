package wording

import (
	"slices"
	"sync"
	"testing"

	"jardinet/index"
	"jardinet/text"
	"jardinet/wordvec"
)

// small is a model in which a furnace is near an incinerator and far from a
// fern.
func small(t testing.TB) *wordvec.Model {
	t.Helper()
	data := wordvec.Encode([]string{"fern", "furnace", "incinerator", "water"},
		[]float32{0, 1, 0, 1, 0, 0, 0.95, 0.1, 0, 0, 0.9, 0.4}, 3, nil)
	m, err := wordvec.Decode(data)
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// readerOf returns a reader for a question, each of whose words weighs the same.
func readerOf(t testing.TB, question string) Reader {
	t.Helper()
	r := &Ranker{Model: small(t), Lexicons: []*Lexicon{NewLexicon()}}
	var q index.Query
	stemmer := text.NewStemmer("en")
	for _, token := range text.Tokens(question) {
		if !text.IsFunctionWord(token.Word, "en") {
			q.Terms = append(q.Terms, index.Term{Word: token.Word, Forms: []string{stemmer.Stem(token.Word)}, Weight: 1, IDF: 2})
		}
	}
	a := r.Ask(question, "en", &q, []text.Language{"en"})
	a.Ready()
	return a.Readers()[0]
}

func TestSpans(t *testing.T) {
	const body = "Feed the fern. The incinerator burns hot near the fern house."
	r := readerOf(t, "Is the furnace hot in the fern house?").Read(body, "en")
	whole, first, second := r.Span(0, len(body)), r.Span(0, 14), r.Span(15, len(body))
	// The terms are furnace, hot, fern and house.
	for _, test := range []struct {
		name         string
		span         Span
		exact, alike uint64
		words, fresh int
	}{{"all", whole, 0b1110, 0b0001, 8, 3}, {"first", first, 0b0100, 0, 2, 1}, {"second", second, 0b1110, 0b0001, 6, 2}} {
		if s := test.span; s.Exact != test.exact || s.Alike != test.alike || s.Words != test.words || s.New != test.fresh {
			t.Errorf("%s: exact %b, alike %b, %d words, %d of them new", test.name, s.Exact, s.Alike, s.Words, s.New)
		}
	}
	if second.Pairs != 1 || first.Pairs != 0 {
		t.Errorf("the second has %.2f of the neighbours, the first %.2f", second.Pairs, first.Pairs)
	}
	if second.Opening != 0b0011 {
		t.Errorf("the second opens with %b", second.Opening)
	}
	if empty := r.Span(14, 14); empty.Words != 0 || empty.Exact != 0 || empty.New != 0 {
		t.Errorf("an empty span is %+v", empty)
	}
}

func TestCosineOfSpans(t *testing.T) {
	const body = "The incinerator. The fern."
	r := readerOf(t, "Where is the furnace?").Read(body, "en")
	hot, green := r.Span(0, 16), r.Span(17, len(body))
	if Cosine() != 0 || Cosine(hot) < 0.9 || Cosine(green) > 0.2 {
		t.Errorf("none %.2f, incinerator %.2f, fern %.2f", Cosine(), Cosine(hot), Cosine(green))
	}
	if both := Cosine(hot, green); both >= Cosine(hot) || both <= Cosine(green) {
		t.Errorf("together %.2f", both)
	}
}

func TestMatchAgreesWithSpans(t *testing.T) {
	reader := readerOf(t, "Is the furnace hot?")
	for _, s := range []string{"A hot incinerator", "The furnace", "Water the fern", ""} {
		exact, alike := reader.Match(s, "en")
		span := reader.Read(s, "en").Span(0, len(s))
		if exact != span.Exact || alike != span.Alike {
			t.Errorf("%q: %b and %b, as a span %b and %b", s, exact, alike, span.Exact, span.Alike)
		}
	}
}

// TestDictionaryServesManyGoroutines wants the same entries whoever asks first.
func TestDictionaryServesManyGoroutines(t *testing.T) {
	r := New()
	words := text.Tokens("The ferns of the glasshouses were watered 12 times by gardeners und Wasser")
	a := r.Ask("fern", "en", &index.Query{}, nil)
	entries := make([][]entry, 8)
	var group sync.WaitGroup
	for g := range entries {
		reader := a.reader()
		reader.known(text.Token{Word: "fern"}, "en") // makes its stemmer
		group.Go(func() {
			for range 50 {
				entries[g] = entries[g][:0]
				for _, w := range words {
					entries[g] = append(entries[g], *r.words.look(w, "en", reader))
				}
			}
		})
	}
	group.Wait()
	for g := range entries {
		for i, e := range entries[g] {
			if e.stem != entries[0][i].stem || !slices.Equal(e.rows, entries[0][i].rows) {
				t.Fatalf("%s is %+v for one and %+v for another", words[i].Word, e, entries[0][i])
			}
		}
	}
	if e := entries[0][0]; e.stem != "" {
		t.Errorf("grammar has the stem %q", e.stem)
	}
	if n := r.words.count.Load(); n > int64(8*len(words)) {
		t.Errorf("%d entries are counted", n)
	}
}

// TestSingleWords has words that are a term, like one and like none.
func TestSingleWords(t *testing.T) {
	r := New()
	q := &index.Query{Terms: []index.Term{{Word: "glasshouse", Forms: []string{"glasshous"}, Weight: 1, IDF: 2}, {Word: "boss", Forms: []string{"boss"}, Weight: 1, IDF: 1}}}
	a := r.Ask("Who is the boss of the glasshouse?", "en", q, []text.Language{"en"})
	a.Ready()
	reader := a.Readers()[0]
	word := func(s string) []float64 { return reader.Word(text.Tokens(s)[0], "en") }
	if near := word("glasshouses"); near == nil || near[0] != 1 || near[1] != 0 {
		t.Errorf("the term itself is as near as %v", near)
	}
	if near := word("manager"); near == nil || near[0] != 0 || near[1] <= 0 || near[1] >= 1 {
		t.Errorf("a word like a term is as near as %v", near)
	}
	for _, s := range []string{"the", "seventeen"} {
		if near := word(s); near != nil && slices.Max(near) >= like {
			t.Errorf("%s is as near as %v", s, near)
		}
	}
	reading := reader.Read("the manager and the glasshouses", "en")
	if exact, alike := Bits(reading.All().Nearness); exact != 1 || alike != 2 {
		t.Errorf("of all words, exact are %b and alike %b", exact, alike)
	}
	if reading.Near(0) != 0 || reading.Near(4) != 1 || reading.Near(1) <= 0 {
		t.Errorf("token by token: %v, %v, %v", reading.Near(0), reading.Near(1), reading.Near(4))
	}
}

func TestEachDoesEveryNumberOnce(t *testing.T) {
	a := New().Ask("fern", "en", &index.Query{}, nil)
	a.Ready()
	done := make([]int, 100)
	a.Each(len(done), func(_ Reader, i int) { done[i]++ })
	if slices.Min(done) != 1 || slices.Max(done) != 1 {
		t.Errorf("done are %v", done)
	}
	a.Each(0, func(Reader, int) { t.Error("of nothing something is done") })
}
