package report

import (
	"bytes"
	"errors"
	"strings"
	"testing"
	"time"

	"jardinet/measure"
)

func sample() *measure.Measurement {
	m := &measure.Measurement{ID: "M1", Created: time.Unix(0, 0).UTC(), Version: "v1", Set: measure.SetInfo{Name: "garden", Questions: 3}, Subject: measure.Subject{Collection: "halvern", Documents: 2, Setup: "live"}}
	page := []measure.Evidence{{Document: "vault.pdf", Page: 4}}
	m.Records = []measure.Record{
		{ID: "q1", Question: "How cold is <it>?", Tags: []string{"figure"}, Answerable: true, Judged: true, Evidence: page, Outcome: measure.Right, Cited: true, State: "answered", Confidence: 0.9, Rank: 1},
		{ID: "q2", Question: "Who | what?", Tags: []string{"figure"}, Answerable: true, Judged: true, Evidence: page, Outcome: measure.Wrong, Cause: measure.WrongSpan, State: "answered", Answer: "the\nkeeper", Confidence: 0.8, Expected: "Ida"},
		{ID: "q3", Question: "Where?", Answerable: true, Judged: true, Evidence: page, Outcome: measure.Refused, Cause: measure.NotRetrieved, State: "not_found", Confidence: 0.2},
	}
	m.Summarise()
	return m
}

func TestReports(t *testing.T) {
	m := sample()
	against, err := measure.Compare(m, m)
	if err != nil {
		t.Fatal(err)
	}
	asked := ""
	options := Options{Against: against, Picture: func(document string, page int) ([]byte, error) {
		asked = document
		return []byte("picture"), nil
	}}
	var html, md bytes.Buffer
	if err := HTML(&html, m, options); err != nil {
		t.Fatal(err)
	}
	if err := Markdown(&md, m, options); err != nil {
		t.Fatal(err)
	}
	if asked != "vault.pdf" {
		t.Error("no picture was asked for")
	}
	for _, want := range []string{"How right are the answers?", "halvern", "wrong span", "not retrieved", "right, page cited", "Compared with measurement M1", "the keeper", "The documents do not say."} {
		if !strings.Contains(html.String(), want) || !strings.Contains(md.String(), want) {
			t.Errorf("a report does not say %q", want)
		}
	}
	for _, want := range []string{"<svg", "data:image/png;base64,cGljdHVyZQ==", "Risk and coverage", "Reliability"} {
		if !strings.Contains(html.String(), want) {
			t.Errorf("the page has no %s", want)
		}
	}
	if strings.Contains(html.String(), "<it>") || strings.Contains(html.String(), "<script") || strings.Contains(html.String(), "src=\"http") {
		t.Error("the page is not by itself, or not escaped")
	}
	if strings.Count(md.String(), "](data:image/png;base64,") != 4 {
		t.Error("the Markdown lacks drawings")
	}
	if !strings.Contains(md.String(), `| Who \| what? | wrong |`) {
		t.Errorf("a bar in a question breaks the table:\n%s", md.String())
	}
	options.Picture = func(string, int) ([]byte, error) { return nil, errors.New("gone") }
	if err := HTML(&html, m, options); err != nil {
		t.Errorf("a page that is gone stops the report: %v", err)
	}
}

func TestPlots(t *testing.T) {
	plots, err := Plots(sample())
	if err != nil || len(plots) != 4 {
		t.Fatalf("%d plots, error %v", len(plots), err)
	}
	for _, p := range plots {
		png, err := p.PNG()
		if err != nil || !bytes.HasPrefix(png, []byte("\x89PNG")) {
			t.Errorf("%s: %v", p.Name, err)
		}
	}
	empty := &measure.Measurement{}
	empty.Summarise()
	if plots, err := Plots(empty); err != nil || len(plots) != 0 {
		t.Errorf("of nothing there are %d plots, error %v", len(plots), err)
	}
}
