package rank

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"jardinet/embed"
	"jardinet/encoder"
	"jardinet/index"
	"jardinet/passage"
	"jardinet/text"
)

func vector(t testing.TB, role encoder.Role, body string, language text.Language) []float32 {
	t.Helper()
	vectors, err := embed.Texts(t.Context(), role, embed.Text{Body: body, Language: language})
	if err != nil {
		t.Fatal(err)
	}
	return vectors[0]
}

// indexed makes an index of texts, one a document under its key; those whose key ends in
// "!" get no vector.
func indexed(t testing.TB, texts map[string]string) *index.Index {
	t.Helper()
	x, err := index.Open(t.TempDir(), index.Space{Model: embed.Name(), Dimensions: embed.Dimensions})
	if err != nil {
		t.Fatal(err)
	}
	var docs []index.Document
	for key, body := range texts {
		p := passage.Passage{Text: body, Language: "en"}
		stored, err := passage.Encode(&p)
		if err != nil {
			t.Fatal(err)
		}
		entry := index.Passage{Body: body, Language: "en", Stored: stored}
		if !strings.HasSuffix(key, "!") {
			entry.Vector = vector(t, encoder.Passage, body, "en")
		}
		docs = append(docs, index.Document{Key: key, Passages: []index.Passage{entry}})
	}
	if err := x.Apply(docs, nil); err != nil {
		t.Fatal(err)
	}
	return x
}

// order returns the keys of what is found, the best first.
func order(t testing.TB, r *Ranker, x *index.Index, question string) []string {
	t.Helper()
	q := &Question{Text: question, Language: "en", Query: x.Parse(question)}
	q.Query.Vector = vector(t, encoder.Query, r.Glossary.Explain(question, "en"), "en")
	found, err := r.Search(t.Context(), x, q, 10)
	if err != nil {
		t.Fatal(err)
	}
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

var rules = map[string]string{
	"leave":  "Employees are entitled to 26 days of annual leave.",
	"valve":  "The valve is closed at night by the duty engineer.",
	"pay":    "Salaries are credited on the 25th of each month.",
	"ladder": "Ladders are inspected before each use.",
	"e2":     "Code E2 means that the pump has no water.",
	"e5":     "Code E5 means that the pump is too hot.",
	"seed":   "Seed is kept at minus eighteen degrees.",
}

func TestMeaningFindsOtherWords(t *testing.T) {
	x, r := indexed(t, rules), New()
	for question, want := range map[string]string{
		"How many days of vacation do I get?":    "leave",
		"When do wages arrive in my account?":    "pay",
		"Who shuts the tap when it gets dark?":   "valve",
		"Must I check the steps before I climb?": "ladder",
	} {
		if got := order(t, r, x, question); first(got) != want {
			t.Errorf("%q finds %v", question, got)
		}
	}
}

func TestNamesAreNotLostToMeaning(t *testing.T) {
	x, r := indexed(t, rules), New()
	for question, want := range map[string]string{"What does E2 mean?": "e2", "What does code E5 say of the pump?": "e5"} {
		if got := order(t, r, x, question); first(got) != want {
			t.Errorf("%q finds %v", question, got)
		}
	}
}

func TestFoundByOneOfThem(t *testing.T) {
	x := indexed(t, rules)
	words, meaning := New(), New()
	words.By, meaning.By = Words, Meaning
	if got := order(t, words, x, "How much vacation do I get?"); len(got) != 0 {
		t.Errorf("by words, a question that shares none finds %v", got)
	}
	if got := order(t, words, x, "annual leave"); !slices.Equal(got, []string{"leave"}) {
		t.Errorf("by words, %v", got)
	}
	if got := order(t, meaning, x, "How many days of vacation do I get?"); first(got) != "leave" || len(got) != len(rules) {
		t.Errorf("by meaning, %v", got)
	}
	if By("luck").Validate() == nil || By("").Validate() != nil || Meaning.Validate() != nil {
		t.Error("choices are not told from others")
	}
}

// A passage whose vector is still to come is found by its words, among those that have one.
func TestWithoutAVectorYet(t *testing.T) {
	texts := map[string]string{"fresh!": "The greenhouse opens at ten in the morning on weekdays."}
	for key, body := range rules {
		texts[key] = body
	}
	x, r := indexed(t, texts), New()
	if got := order(t, r, x, "When does the greenhouse open on weekdays?"); first(got) != "fresh!" {
		t.Errorf("by its words it is not first: %v", got)
	}
	if got := order(t, r, x, "How many days of vacation do I get?"); first(got) != "leave" || slices.Contains(got, "fresh!") {
		t.Errorf("it is among what another question finds: %v", got)
	}
}

func TestGlossaryCountsAsTheWordItself(t *testing.T) {
	x := indexed(t, map[string]string{
		"ssi":   "Standing Safety Instruction 4 is read aloud.",
		"glass": "The glasshouse panes are cleaned on Monday.",
		"other": "The manual of the pump is kept in the cabinet.",
	})
	r := New(Entry{Kind: Abbreviation, Term: "SSI", Means: "Standing Safety Instruction"}, Entry{Kind: Translation, Term: "Scheibe", Means: "pane", Language: "de", MeansLanguage: "en"})
	r.By = Words
	if got := order(t, r, x, "Who reads the SSI?"); first(got) != "ssi" {
		t.Errorf("an abbreviation finds %v", got)
	}
	if got := r.Glossary.Explain("Who reads the SSI today?", "en"); got != "Who reads the SSI (standing safety instruction) today?" {
		t.Errorf("the encoder is asked %q", got)
	}
	if got := r.Glossary.Explain("Welche Scheibe?", "de"); got != "Welche Scheibe (pane)?" {
		t.Errorf("the encoder is asked %q", got)
	}
	var none *Glossary
	if got := none.Explain("Who?", "en"); got != "Who?" {
		t.Errorf("without a glossary it is asked %q", got)
	}
}

func TestNothing(t *testing.T) {
	x, r := indexed(t, nil), New()
	if got := order(t, r, x, "Who?"); len(got) != 0 {
		t.Errorf("an empty index finds %v", got)
	}
	x = indexed(t, rules)
	for _, c := range order(t, r, x, "?") {
		if c == "" {
			t.Error("a passage without a key")
		}
	}
}

func TestScoresAreNumbers(t *testing.T) {
	x, r := indexed(t, map[string]string{"a!": "Boiler.", "b": "Valve."}), New()
	q := &Question{Text: "boiler valve", Language: "en", Query: x.Parse("boiler valve")}
	q.Query.Vector = vector(t, encoder.Query, "boiler valve", "en")
	found, err := r.Search(t.Context(), x, q, 10)
	if err != nil || len(found) != 2 {
		t.Fatalf("%d found, error %v", len(found), err)
	}
	for _, c := range found {
		for i, v := range c.Features.Vector() {
			if v != v || v < -1.01 || v > 1.01 {
				t.Errorf("%s: %s is %g", c.Hit.Key, Names[i], v)
			}
		}
		sum := 0.0
		parts := c.Features.Times(&r.Weights)
		for _, v := range parts.Vector() {
			sum += v
		}
		if sum != c.Score {
			t.Errorf("%s: its parts make %g, its score is %g", c.Hit.Key, sum, c.Score)
		}
	}
}

func BenchmarkRead(b *testing.B) {
	texts := map[string]string{}
	for i := range 160 {
		texts[fmt.Sprintf("d%d!", i)] = strings.Repeat("The duty officer closes the valve and writes the reading into the humidity log. ", 8)
	}
	x, r := indexed(b, texts), New()
	q := &Question{Text: "Who closes the valve in the evening?", Language: "en", Query: x.Parse("Who closes the valve in the evening?")}
	hits, err := x.Search(b.Context(), &q.Query, 200)
	if err != nil {
		b.Fatal(err)
	}
	b.ReportAllocs()
	for b.Loop() {
		if _, err := r.Read(q, hits); err != nil {
			b.Fatal(err)
		}
	}
}
