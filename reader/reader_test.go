package reader

import (
	"context"
	"encoding/json"
	"errors"
	"math"
	"os"
	"strings"
	"testing"

	"jardinet/passage"
)

// A reference is what train/checkreader.py made of a question and a passage in float32.
type reference struct {
	Question  string     `json:"question"`
	Heading   string     `json:"heading"`
	Text      string     `json:"text"`
	Sentences [][2]int   `json:"sentences"`
	Pieces    int        `json:"pieces"`
	Relevance float64    `json:"relevance"`
	Polarity  [3]float64 `json:"polarity"`
	Evidence  []float64  `json:"evidence"`
}

// passage makes the reference's passage.
func (r *reference) passage() *passage.Passage {
	p := &passage.Passage{Text: r.Text, Language: "en"}
	for _, s := range r.Sentences {
		p.Sentences = append(p.Sentences, passage.Sentence{Start: s[0], End: s[1]})
	}
	return p
}

func references(t *testing.T) []reference {
	t.Helper()
	data, err := os.ReadFile("testdata/readings.json")
	if err != nil {
		t.Fatal(err)
	}
	var out []reference
	if err := json.Unmarshal(data, &out); err != nil {
		t.Fatal(err)
	}
	return out
}

// TestReadsLikeTheReference compares with float32; weights and rows are bytes here.
func TestReadsLikeTheReference(t *testing.T) {
	all := references(t)
	off := 0.0
	for _, want := range all {
		got, err := English().Read(t.Context(), want.Question, []Text{{want.Heading, want.passage()}})
		if err != nil {
			t.Fatal(err)
		}
		d := math.Abs(got[0].Relevance - want.Relevance)
		off += d / float64(len(all))
		if d > 1.5 {
			t.Errorf("%s: relevance %.2f, the reference has %.2f", want.Question, got[0].Relevance, want.Relevance)
		}
		for i, e := range want.Evidence {
			if math.Abs(got[0].Evidence[i]-e) > 0.25 {
				t.Errorf("%s: sentence %d proves with %.2f, the reference has %.2f", want.Question, i, got[0].Evidence[i], e)
			}
		}
	}
	if off > 0.3 {
		t.Errorf("relevance is off by %.2f in the mean", off)
	}
}

func TestPacksLikeTheReference(t *testing.T) {
	r := English()
	for _, want := range references(t) {
		p := r.pack(r.model.Pieces(want.Question, mostQuestion), Text{want.Heading, want.passage()})
		if len(p.pieces) != want.Pieces || len(p.of) != want.Pieces {
			t.Errorf("%s: %d pieces, the reference has %d", want.Question, len(p.pieces), want.Pieces)
		}
	}
}

// A long passage is cut off, and what is beyond proves nothing.
func TestLongPassage(t *testing.T) {
	p := &passage.Passage{Text: strings.Repeat("The gate is shut at six in the evening. ", 60), Language: "en"}
	for at := 0; at < len(p.Text); at += 40 {
		p.Sentences = append(p.Sentences, passage.Sentence{Start: at, End: at + 39})
	}
	got, err := English().Read(t.Context(), "When is the gate shut?", []Text{{"", p}, {"Gates", &passage.Passage{}}})
	if err != nil {
		t.Fatal(err)
	}
	sum := 0.0
	for _, e := range got[0].Evidence {
		sum += e
	}
	if len(got[0].Evidence) != 60 || math.Abs(sum-1) > 1e-6 || got[0].Evidence[59] != 0 {
		t.Errorf("evidence of %d sentences adds up to %v, the last has %v", len(got[0].Evidence), sum, got[0].Evidence[59])
	}
	if _, _, likely := got[0].Span(p, 59, 59); likely != 0 {
		t.Errorf("words beyond what is read answer with %v", likely)
	}
	if from, to, likely := got[1].Span(&passage.Passage{}, 0, 0); from != to || likely != 0 {
		t.Errorf("nothing answers with %d to %d, %v", from, to, likely)
	}
}

func TestCancelledReading(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	p := &passage.Passage{Text: "One.", Sentences: []passage.Sentence{{End: 4}}}
	if _, err := English().Read(ctx, "What?", []Text{{"", p}}); !errors.Is(err, context.Canceled) {
		t.Errorf("a cancelled reading returns %v", err)
	}
}

func TestSpan(t *testing.T) {
	p := &passage.Passage{Text: "The gate is shut at six (in winter at five).", Sentences: []passage.Sentence{{Start: 0, End: 44}}}
	r := Reading{}
	for at, i := 0, 0; at < len(p.Text); i++ {
		start, end := nextWord(p.Text, at, len(p.Text))
		r.words = append(r.words, word{start: start, end: end})
		at = end
	}
	r.words[5].begins, r.words[8].ends = 9, 9 // six … five).
	from, to, likely := r.Span(p, 0, 0)
	if got := p.Text[from:to]; got != "six (in winter at" && got != "six (in winter at five)" || likely < 0.9 {
		t.Errorf("the words are %q, %v", got, likely)
	}
	r.words[5].begins, r.words[8].ends = 0, 0
	r.words[6].begins, r.words[7].ends = 9, 9
	if from, to, _ = r.Span(p, 0, 0); p.Text[from:to] != "in winter" {
		t.Errorf("the words are %q", p.Text[from:to])
	}
}

func TestBare(t *testing.T) {
	for s, want := range map[string]string{"Four hours.": "Four hours", "(at noon": "at noon", "“Elbereth”,": "“Elbereth”", "...": "...", "f(x)": "f(x)"} {
		if from, to := bare(s, 0, len(s)); s[from:to] != want {
			t.Errorf("%q is %q, want %q", s, s[from:to], want)
		}
	}
}

func TestDamagedModel(t *testing.T) {
	if _, err := Open(english[:1000]); err == nil {
		t.Error("half a model is opened")
	}
}
