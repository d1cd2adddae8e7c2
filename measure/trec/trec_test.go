package trec

import (
	"bytes"
	"reflect"
	"strings"
	"testing"

	"jardinet/measure"
)

func TestThereAndBack(t *testing.T) {
	set, err := measure.NewSet("garden", []measure.Question{
		{ID: "q1", Question: "How long may seed stay out?", Evidence: []measure.Evidence{{Document: "seed vault.pdf", Page: 12}, {Document: "100%.pdf", Page: 3}}},
		{ID: "q2", Question: "And at night?", Evidence: []measure.Evidence{{All: []measure.Evidence{{Document: "a:b.pdf", Page: 1}, {Document: "a:b.pdf", Page: 2}}}}},
		{ID: "q3", Question: "Who painted it?"},
	})
	if err != nil {
		t.Fatal(err)
	}
	var topics, qrels bytes.Buffer
	if err := WriteTopics(&topics, set); err != nil {
		t.Fatal(err)
	}
	if err := WriteQrels(&qrels, set); err != nil {
		t.Fatal(err)
	}
	if want := "q1 0 seed%20vault.pdf:12 1\nq1 0 100%25.pdf:3 1\nq2 0 a:b.pdf:1 1\nq2 0 a:b.pdf:2 1\n"; qrels.String() != want {
		t.Errorf("qrels are\n%s", qrels.String())
	}
	back, err := ReadSet("garden", &topics, &qrels)
	if err != nil {
		t.Fatal(err)
	}
	for i, q := range back.Questions {
		if q.ID != set.Questions[i].ID || q.Question != set.Questions[i].Question || !reflect.DeepEqual(q.Places(), set.Questions[i].Places()) {
			t.Errorf("%+v came back as %+v", set.Questions[i], q)
		}
	}
}

func TestRun(t *testing.T) {
	m := &measure.Measurement{ID: "M1", Records: []measure.Record{{ID: "q1", Retrieved: []measure.Retrieved{
		{Document: "a.pdf", Pages: []int{1, 2}, Score: 3}, {Document: "a.pdf", Pages: []int{2, 3}, Score: 3}, {Document: "b.pdf", Pages: []int{9}, Score: 1},
	}}}}
	var out bytes.Buffer
	if err := WriteRun(&out, m); err != nil {
		t.Fatal(err)
	}
	run, err := ReadRun(&out)
	if err != nil {
		t.Fatal(err)
	}
	var order []string
	for _, r := range run["q1"] {
		order = append(order, Page(r.Document, r.Pages[0]))
	}
	if got := strings.Join(order, " "); got != "a.pdf:1 a.pdf:2 a.pdf:3 b.pdf:9" {
		t.Errorf("the order is %s", got)
	}
}

// TestTies follows the custom that equal scores are ordered by name backwards, whatever the ranks say.
func TestTies(t *testing.T) {
	run, err := ReadRun(strings.NewReader("q Q0 a.pdf:1 1 0.5 x\nq Q0 c.pdf:1 2 0.5 x\nq Q0 b.pdf:1 9 0.7 x\n"))
	if err != nil {
		t.Fatal(err)
	}
	set, err := measure.NewSet("s", []measure.Question{{ID: "q", Question: "?", Evidence: []measure.Evidence{{Document: "a.pdf", Page: 1}}}})
	if err != nil {
		t.Fatal(err)
	}
	m, err := measure.Retrieval(set, func(q *measure.Question) ([]measure.Retrieved, error) { return run[q.ID], nil })
	if err != nil || m.Records[0].Rank != 3 {
		t.Errorf("a.pdf is at rank %d, error %v", m.Records[0].Rank, err)
	}
}

func TestBadFiles(t *testing.T) {
	for _, test := range []struct{ topics, qrels, want string }{
		{"q1 no tab", "", "a tab"},
		{"<top><num>1</top>", "", "lacks"},
		{"q1\tWhy?", "q1 0 a.pdf 1", "file.pdf:12"},
		{"q1\tWhy?", "q1 0 a.pdf:0 1", "file.pdf:12"},
		{"q1\tWhy?", "q1 a.pdf:1 1", "3 fields"},
		{"q1\tWhy?", "q1 0 a.pdf:1 much", "relevance"},
		{"q1\tWhy?\nq1\tHow?", "", "twice"},
	} {
		if _, err := ReadSet("s", strings.NewReader(test.topics), strings.NewReader(test.qrels)); err == nil || !strings.Contains(err.Error(), test.want) {
			t.Errorf("%q and %q: error %v, want one that says %q", test.topics, test.qrels, err, test.want)
		}
	}
	if _, err := ReadRun(strings.NewReader("q Q0 a.pdf:1 1 high x")); err == nil || !strings.Contains(err.Error(), "line 1") {
		t.Errorf("a bad score gives the error %v", err)
	}
}
