package answer

import (
	"slices"
	"strings"
	"testing"
	"time"

	"jardinet/reader"
	"jardinet/text"
)

// searched makes a search of sections, each of a document of its own.
func searched(titles []string, sections ...[]string) *Search {
	s := &Search{Language: text.English}
	for i, section := range sections {
		s.Candidates = append(s.Candidates, Candidate{
			DocumentID: titles[i], Document: Document{Name: titles[i] + ".pdf", Title: titles[i], Labels: []string{"i", "1"}},
			Passage: made(i, section, "en"), Score: float64(len(sections) - i),
		})
	}
	return s
}

// of makes the finding of some words in a sentence of a candidate.
func of(t *testing.T, s *Search, candidate, sentence int, words string) finding {
	t.Helper()
	p := s.Candidates[candidate].Passage
	at := strings.Index(p.Text, words)
	if at < 0 {
		t.Fatalf("%q does not stand in %q", words, p.Text)
	}
	evidence := make([]float64, len(p.Sentences))
	evidence[sentence] = 1
	return finding{
		candidate: candidate, first: sentence, best: sentence, last: sentence, from: at, to: at + len(words), sure: 0.9,
		reading: reader.Reading{Relevance: 3, Evidence: evidence, Polarity: [3]float64{1}, Shape: [3]float64{1}},
	}
}

func TestShort(t *testing.T) {
	s := searched([]string{"a"}, []string{"H", "the gate is shut at eight in the evening.", "Bring boots.", "1. A spade.", "2. A bag."})
	for _, test := range []struct {
		name           string
		change         func(f *finding)
		language       text.Language
		words, verdict string
	}{
		{"the words, with a capital", func(*finding) {}, "en", "Eight in the evening", ""},
		{"unsure words are left to the statement", func(f *finding) { f.sure = 0.1 }, "en", "", ""},
		{"no words", func(f *finding) { f.to = f.from }, "en", "", ""},
		{"yes", func(f *finding) { f.reading.Polarity = [3]float64{0, 1, 0} }, "en", "Yes", "yes"},
		{"no in French", func(f *finding) { f.reading.Polarity = [3]float64{0, 0, 1} }, "fr", "Non", "no"},
		{"yes in German", func(f *finding) { f.reading.Polarity = [3]float64{0, 1, 0} }, "de", "Ja", "yes"},
		{"hardly a yes", func(f *finding) { f.reading.Polarity = [3]float64{0.5, 0.5, 0} }, "en", "Eight in the evening", ""},
	} {
		f := of(t, s, 0, 0, "eight in the evening")
		test.change(&f)
		words, verdict := short(test.language, s.Candidates[0].Passage, &f, 1, false, 0.4)
		if words != test.words || verdict != test.verdict {
			t.Errorf("%s: %q, %q", test.name, words, verdict)
		}
	}
	f := of(t, s, 0, 1, "Bring boots")
	if words, _ := short("en", s.Candidates[0].Passage, &f, 1, false, 0.4); words != "" {
		t.Errorf("a statement that says no more is repeated as %q", words)
	}
	if words, _ := short("en", s.Candidates[0].Passage, &f, 2, true, 0.4); words != "" {
		t.Errorf("a list is headed by %q", words)
	}
}

func TestShown(t *testing.T) {
	s := searched([]string{"a"}, []string{"H", "Take these along:", "1. A spade.", "2. A bag.", "That is all.", "Go by train.", "Come back."})
	p := s.Candidates[0].Passage
	item := of(t, s, 0, 1, "spade")
	item.reading.Shape = [3]float64{0, 0, 1}
	lead := of(t, s, 0, 0, "these")
	alone := of(t, s, 0, 1, "spade")
	wide := of(t, s, 0, 3, "all")
	wide.last = 5
	wide.reading.Evidence = []float64{0, 0, 0, 0.5, 0.3, 0.2}
	for _, test := range []struct {
		name string
		f    finding
		most int
		want []int
		list bool
	}{
		{"an item of a list that is asked for", item, 0, []int{0, 1, 2}, true},
		{"what leads to a list", lead, 0, []int{0, 1, 2}, true},
		{"an item alone", alone, 0, []int{1}, false},
		{"a run", wide, 0, []int{3, 4, 5}, false},
		{"no more than the style says", wide, 2, []int{3, 4}, false},
		{"one", wide, 1, []int{3}, false},
	} {
		a := &Answerer{Style: Style{Statements: test.most}}
		got, list := a.shown(p, &test.f)
		if !slices.Equal(got, test.want) || list != test.list {
			t.Errorf("%s: %v, a list %t", test.name, got, list)
		}
	}
}

func TestDocumentsThatDisagree(t *testing.T) {
	s := searched([]string{"Order 2023", "Notes", "Menu"},
		[]string{"Gate", "The gate is shut at 6 pm on weekdays."}, []string{"Gate", "The gate is shut at 8 pm on weekdays."}, []string{"Food", "Soup is served at 8 pm."})
	s.Candidates[1].Document.Added = time.Date(2025, 3, 4, 0, 0, 0, 0, time.UTC)
	a := &Answerer{}
	a.Style.Certain = 1e-9
	out := blank("When is the gate shut?")
	a.compose(out, s, []finding{of(t, s, 0, 0, "6 pm"), of(t, s, 2, 0, "8 pm"), of(t, s, 1, 0, "8 pm")})
	if out.Short != "6 pm" || len(out.Statements) != 2 || out.Statements[1].Contrary != "Notes (put in on 2025-03-04)" {
		t.Fatalf("the answer is %q, %+v", out.Short, out.Statements)
	}
	if !strings.Contains(out.Text, "Otherwise in Notes (put in on 2025-03-04):\nThe gate is shut at 8 pm") || out.Citations[1].DocumentID != "Notes" {
		t.Errorf("it reads %q", out.Text)
	}
	if out.Citations[0].Label != "i" || out.Citations[1].Label != "1" {
		t.Errorf("labels are %q and %q", out.Citations[0].Label, out.Citations[1].Label)
	}
	same := blank("When is the gate shut?")
	a.compose(same, s, []finding{of(t, s, 0, 0, "6 pm"), of(t, s, 2, 0, "8 pm")})
	if len(same.Statements) != 1 {
		t.Errorf("another thing contradicts: %+v", same.Statements)
	}
}

func TestWhatTheStyleLeavesOutIsNotSaid(t *testing.T) {
	s := searched([]string{"a", "b"}, []string{"Cafe", "The cafe opens at nine."}, []string{"Gate", "The gate opens at ten."})
	a := &Answerer{}
	a.Style = Style{Certain: 1e-9, LeaveOut: []string{"cafe"}}
	out := blank("When does it open?")
	a.compose(out, s, []finding{of(t, s, 0, 0, "nine"), of(t, s, 1, 0, "ten")})
	if out.Short != "Ten" {
		t.Errorf("the answer is %q, %+v", out.Short, out.Statements)
	}
}

func TestRefusals(t *testing.T) {
	for _, test := range []struct {
		language text.Language
		maybe    bool
		want     string
	}{
		{"en", false, "The documents do not say."}, {"en", true, "The documents do not plainly say."},
		{"fr", false, "Les documents ne le disent pas."}, {"fr", true, "Les documents ne le disent pas clairement."},
		{"de", false, "Die Dokumente sagen es nicht."}, {"de", true, "Die Dokumente sagen es nicht klar."},
	} {
		if got := refusal(test.language, test.maybe); got != test.want {
			t.Errorf("%s: %q, want %q", test.language, got, test.want)
		}
	}
}

func TestLabelOfAPage(t *testing.T) {
	d := Document{Labels: []string{"i", "1"}}
	for page, want := range map[int]string{0: "", 1: "i", 2: "1", 3: ""} {
		if got := label(d, page); got != want {
			t.Errorf("page %d is labelled %q, want %q", page, got, want)
		}
	}
}

func TestConfidenceFollowsItsSignals(t *testing.T) {
	c := calibrated()
	for _, name := range SignalNames {
		if _, ok := c.Weights[name]; !ok {
			t.Errorf("confidence.json lacks a weight for %s", name)
		}
	}
	if c.From <= c.Maybe || c.From >= 1 || c.Maybe <= 0 {
		t.Errorf("an answer is given from %v, perhaps from %v", c.From, c.Maybe)
	}
	poor := Signals{Relevance: -0.5, Unsaid: 1, Unknown: 0.5}
	good := Signals{Relevance: 0.8, Margin: 0.5, Evidence: 0.95, Span: 0.9, Meaning: 0.7, Likeness: 0.7, Standing: 1, Coverage: 1, Covered: 1, Pairs: 0.8}
	if poor.confidence(c) >= c.Maybe || good.confidence(c) < c.From {
		t.Errorf("poor signals give %v, good ones %v", poor.confidence(c), good.confidence(c))
	}
}

func TestNearestSayWhatComesClosest(t *testing.T) {
	s := searched([]string{"a"}, []string{"Gate", "The gate is green.", "The gate opens at ten.", "It is heavy."})
	f := of(t, s, 0, 1, "ten")
	got := nearest(s, []finding{f})
	if len(got) != 1 || len(got[0].Sentences) != 3 || got[0].Page != 1 || got[0].Label != "i" {
		t.Fatalf("nearest are %+v", got)
	}
	for i, line := range got[0].Sentences {
		if line.Closest != (i == 1) {
			t.Errorf("sentence %d comes closest: %t", i, line.Closest)
		}
	}
}
