package measure

import (
	"math"
	"reflect"
	"strings"
	"testing"

	"jardinet/answer"
)

func TestReadSet(t *testing.T) {
	jsonl := `{"id":"a","question":"How long?","accept":["four hours"],"evidence":[{"document":"m.pdf","page":12},{"all":[{"document":"m.pdf","page":1},{"document":"n.pdf","page":2}]}],"tags":["lookup"]}

{"id":"b","question":"And who?","answerable":false,"after":["How long?"]}`
	table := "id,question,accept,evidence,tags,answerable,after\n" +
		"a,How long?,four hours,m.pdf:12; m.pdf:1+n.pdf:2,lookup,,\n" +
		"b,And who?,,,,false,How long?\n"
	fromJSON, err := ReadSet("q.jsonl", []byte(jsonl))
	if err != nil {
		t.Fatal(err)
	}
	fromCSV, err := ReadSet("q.csv", []byte("\ufeff"+table))
	if err != nil {
		t.Fatal(err)
	}
	if !reflect.DeepEqual(fromJSON.Questions, fromCSV.Questions) {
		t.Errorf("JSON gives %+v\nCSV gives %+v", fromJSON.Questions, fromCSV.Questions)
	}
	if q := fromJSON.Questions; !q[0].CanBeAnswered() || q[1].CanBeAnswered() || len(q[0].Evidence[1].All) != 2 {
		t.Errorf("questions are %+v", q)
	}
}

func TestBadSets(t *testing.T) {
	tests := []struct{ name, data, want string }{
		{"q.jsonl", "", "no questions"},
		{"q.jsonl", `{"id":"a"}`, "no text"},
		{"q.jsonl", `{"question":"x"}`, "no id"},
		{"q.jsonl", "{\"id\":\"a\",\"question\":\"x\"}\n{\"id\":\"a\",\"question\":\"y\"}", "twice"},
		{"q.jsonl", `{"id":"a","question":"x","colour":"red"}`, "line 1"},
		{"q.jsonl", "{\"id\":\"a\",\"question\":\"x\"}\nnot json", "line 2"},
		{"q.jsonl", `{"id":"a","question":"x","evidence":[{"document":"m.pdf"}]}`, "page"},
		{"q.csv", "id,question,evidence\na,x,page 3", "file.pdf:12"},
		{"q.csv", "id,question,shade\na,x,blue", "unknown column"},
	}
	for _, test := range tests {
		if _, err := ReadSet(test.name, []byte(test.data)); err == nil || !strings.Contains(err.Error(), test.want) {
			t.Errorf("%q: error is %v, want one that says %q", test.data, err, test.want)
		}
	}
}

func page(document string, n int) Evidence { return Evidence{Document: document, Page: n} }

func TestRank(t *testing.T) {
	retrieved := []Retrieved{{Document: "a.pdf", Pages: []int{1}}, {Document: "b.pdf", Pages: []int{3, 4}}, {Document: "a.pdf", Pages: []int{7}}}
	tests := []struct {
		evidence []Evidence
		want     int
	}{
		{[]Evidence{page("a.pdf", 1)}, 1},
		{[]Evidence{page("b.pdf", 4), page("a.pdf", 7)}, 2},
		{[]Evidence{{All: []Evidence{page("a.pdf", 1), page("a.pdf", 7)}}}, 3},
		{[]Evidence{{All: []Evidence{page("a.pdf", 1), page("c.pdf", 7)}}}, 0},
		{[]Evidence{page("b.pdf", 1)}, 0},
		{nil, 0},
	}
	for _, test := range tests {
		if got := rank(test.evidence, retrieved); got != test.want {
			t.Errorf("rank of %+v is %d, want %d", test.evidence, got, test.want)
		}
	}
}

func citation(document string, pages ...int) answer.Citation {
	c := answer.Citation{Document: document}
	for _, p := range pages {
		c.Boxes = append(c.Boxes, answer.Box{Page: p})
	}
	return c
}

func TestJudge(t *testing.T) {
	no := false
	tests := []struct {
		name    string
		q       Question
		given   answer.Answer
		outcome string
		cited   bool
		proving int
	}{
		{"right", Question{Accept: []string{"4 hours"}, Evidence: []Evidence{page("m.pdf", 2)}},
			answer.Answer{State: answer.Answered, Short: "Four hours", Citations: []answer.Citation{citation("m.pdf", 2), citation("m.pdf", 9)}}, Right, true, 1},
		{"wrong", Question{Accept: []string{"4 hours"}, Evidence: []Evidence{page("m.pdf", 2)}},
			answer.Answer{State: answer.Answered, Short: "14 hours", Citations: []answer.Citation{citation("n.pdf", 2)}}, Wrong, false, 0},
		{"right only further down", Question{Accept: []string{"4 hours"}}, answer.Answer{State: answer.Answered, Short: "14 hours", Text: "14 hours, not 4 hours"}, Wrong, false, 0},
		{"a paragraph", Question{Accept: []string{"4 hours"}}, answer.Answer{State: answer.Answered, Statements: []answer.Statement{{Text: strings.Repeat("word ", 40) + "four hours"}}}, Wrong, false, 0},
		{"refused", Question{Accept: []string{"4 hours"}}, answer.Answer{State: answer.NotFound}, Refused, false, 0},
		{"rightly refused", Question{Answerable: &no}, answer.Answer{State: answer.NotFound}, Right, false, 0},
		{"invented", Question{Answerable: &no}, answer.Answer{State: answer.Answered, Text: "x"}, Invented, false, 0},
		{"unjudged", Question{}, answer.Answer{State: answer.Partial, Text: "x"}, Unjudged, false, 0},
	}
	for _, test := range tests {
		r := judge(&test.q, &test.given)
		if r.Outcome != test.outcome || r.Cited != test.cited || r.Proving != test.proving {
			t.Errorf("%s: outcome %s, cited %v, proving %d", test.name, r.Outcome, r.Cited, r.Proving)
		}
	}
}

func TestFigures(t *testing.T) {
	with := Record{Answerable: true, Judged: true, Evidence: []Evidence{page("m.pdf", 1)}}
	of := func(r Record) Record {
		r.Answerable, r.Judged, r.Evidence = with.Answerable, with.Judged, with.Evidence
		return r
	}
	records := []Record{
		of(Record{Rank: 1, Outcome: Right, Cited: true, State: answer.Answered, Citations: make([]answer.Citation, 2), Proving: 1}),
		of(Record{Rank: 4, Outcome: Wrong, State: answer.Answered, Citations: make([]answer.Citation, 2), Proving: 2}),
		of(Record{Rank: 0, Outcome: Refused, State: answer.NotFound}),
		{Outcome: Right, State: answer.NotFound},
	}
	want := map[string]float64{
		Recall1: 1. / 3, Recall3: 1. / 3, NDCG10: 0, Recall5: 2. / 3, Recall10: 2. / 3, MRR10: 1.25 / 3, Accepted: 1. / 3, Proved: 1. / 3,
		Precision: 0.75, RefusedWell: 1, RefusedBad: 1. / 3, WrongGiven: 0.5,
	}
	for _, f := range figures(kinds, records) {
		if math.Abs(f.Value-want[f.Name]) > 1e-4 {
			t.Errorf("%s is %v, want %v", f.Name, f.Value, want[f.Name])
		}
		if f.Low > f.Value || f.High < f.Value {
			t.Errorf("%s: %v lies outside %v to %v", f.Name, f.Value, f.Low, f.High)
		}
		delete(want, f.Name)
	}
	if len(want) > 0 {
		t.Errorf("figures are missing: %v", want)
	}
	if again := figures(kinds, records); !reflect.DeepEqual(again, figures(kinds, records)) {
		t.Error("the same records give other intervals the second time")
	}
}

func TestGain(t *testing.T) {
	evidence := []Evidence{page("a.pdf", 1), page("a.pdf", 9)}
	at := func(pages ...int) (out []Retrieved) {
		for _, p := range pages {
			out = append(out, Retrieved{Document: "a.pdf", Pages: []int{p}})
		}
		return out
	}
	second := 1 / math.Log2(3)
	for _, test := range []struct {
		retrieved []Retrieved
		want      float64
	}{
		{at(1, 9), 1}, {at(9, 1, 3), 1}, {at(1, 1, 1), 1 / (1 + second)}, {at(2, 1), second / (1 + second)}, {at(2, 3), 0}, {nil, 0},
	} {
		if got := gain(evidence, test.retrieved); math.Abs(got-test.want) > 1e-9 {
			t.Errorf("gain of %v is %v, want %v", test.retrieved, got, test.want)
		}
	}
}

func TestRetrieval(t *testing.T) {
	set := &Set{Questions: []Question{{ID: "a", Question: "x", Tags: []string{"lookup"}, Evidence: []Evidence{page("a.pdf", 2)}}, {ID: "b", Question: "y", Evidence: []Evidence{page("a.pdf", 3)}}}}
	got, err := Retrieval(set, func(*Question) ([]Retrieved, error) { return []Retrieved{{Document: "a.pdf", Pages: []int{2}}}, nil })
	if err != nil || len(got.Figures) != 6 || got.ByTag["lookup"][0].Value != 1 {
		t.Fatalf("figures are %+v, error %v", got, err)
	}
	for _, f := range got.Figures {
		if f.Value != 0.5 || f.Questions != 2 {
			t.Errorf("%s is %v over %d questions, want a half", f.Name, f.Value, f.Questions)
		}
	}
}

func TestStages(t *testing.T) {
	var records []Record
	for i := range 100 {
		records = append(records, Record{Timing: answer.Timing{Search: float64(i), Total: float64(2 * i)}})
	}
	for _, s := range stages(records) {
		if s.Name == "total" && (s.P50 != 100 || s.P95 != 190 || s.P99 != 198) {
			t.Errorf("total is %+v", s)
		}
		if s.Name == "evidence" && s.P99 != 0 {
			t.Errorf("evidence is %+v", s)
		}
	}
}

func TestIntervalNarrowsWithQuestions(t *testing.T) {
	width := func(n int) float64 {
		samples := make([]sample, n)
		for i := range samples {
			samples[i] = sample{value: float64(i % 2), weight: 1}
		}
		low, high := interval(samples, func(pick []int) float64 { return mean(samples, pick) })
		return high - low
	}
	if few, many := width(20), width(2000); many >= few/5 {
		t.Errorf("20 questions give an interval of %.3f, 2000 one of %.3f", few, many)
	}
}

// TestIntervalOfDocuments has questions that all succeed or all fail in one document: twenty of
// them tell little more than two would.
func TestIntervalOfDocuments(t *testing.T) {
	samples := make([]sample, 40)
	for i := range samples {
		samples[i] = sample{value: float64(i % 2), weight: 1, document: []string{"a.pdf", "b.pdf"}[i%2]}
	}
	low, high := interval(samples, func(pick []int) float64 { return mean(samples, pick) })
	if low != 0 || high != 1 {
		t.Errorf("the interval is %.2f to %.2f, though all may hang on one document", low, high)
	}
}
