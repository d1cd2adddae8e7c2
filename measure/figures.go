package measure

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// Names of figures, in the order in which they are shown.
const (
	Recall1     = "page recall@1"
	Recall3     = "page recall@3"
	Recall5     = "page recall@5"
	Recall10    = "page recall@10"
	MRR10       = "MRR@10"
	NDCG10      = "nDCG@10"
	Accepted    = "short answer right"
	Proved      = "right, page cited"
	Precision   = "citations that prove"
	RefusedWell = "refusals right"
	RefusedBad  = "refusals wrong"
	WrongGiven  = "wrong of those given"
)

// A kind of figure: what a question adds to it. A weight of 0 leaves the question out.
type kind struct {
	name string
	of   func(*Record) (value, weight float64)
	less bool // is better
}

// retrieval are the figures of what is found; the others are of what is answered.
var retrieval = []kind{
	{name: Recall1, of: within(1)},
	{name: Recall3, of: within(3)},
	{name: Recall5, of: within(5)},
	{name: Recall10, of: within(10)},
	{name: MRR10, of: func(r *Record) (float64, float64) {
		if r.Rank == 0 {
			return 0, r.hasEvidence()
		}
		return 1 / float64(r.Rank), 1
	}},
	{name: NDCG10, of: func(r *Record) (float64, float64) { return gain(r.Evidence, r.Retrieved), r.hasEvidence() }},
}

var kinds = append(slices.Clone(retrieval), []kind{
	{name: Accepted, of: func(r *Record) (float64, float64) { return truth(r.Outcome == Right), r.judged() }},
	{name: Proved, of: func(r *Record) (float64, float64) { return truth(r.proved()), r.judged() * r.hasEvidence() }},
	{name: Precision, of: func(r *Record) (float64, float64) {
		n := float64(len(r.Citations))
		return float64(r.Proving) / max(1, n), n * r.hasEvidence()
	}},
	{name: RefusedWell, of: func(r *Record) (float64, float64) { return truth(r.refused()), truth(!r.Answerable) }},
	{name: RefusedBad, less: true, of: func(r *Record) (float64, float64) { return truth(r.refused()), truth(r.Answerable) }},
	{name: WrongGiven, less: true, of: func(r *Record) (float64, float64) {
		return truth(!r.proved()), truth(!r.refused() && r.Outcome != Unjudged)
	}},
}...)

func within(k int) func(*Record) (float64, float64) {
	return func(r *Record) (float64, float64) { return truth(r.Rank > 0 && r.Rank <= k), r.hasEvidence() }
}

func (r *Record) hasEvidence() float64 { return truth(len(r.Evidence) > 0) }

// judged tells whether the short answer can be judged.
func (r *Record) judged() float64 { return truth(r.Answerable && r.Judged) }

func (r *Record) refused() bool { return r.State == "not_found" }

// proved tells whether the answer is right and cites a page that proves it, where that is known.
func (r *Record) proved() bool { return r.Outcome == Right && (r.Cited || len(r.Evidence) == 0) }

// Succeeded tells whether a question came out as it should: answered rightly with its page, or
// rightly refused.
func (r *Record) Succeeded() bool { return r.Outcome == Right && (!r.Answerable || r.proved()) }

// document is what a question is about, for intervals; empty where it is about none.
func (r *Record) document() string {
	for _, e := range r.Evidence {
		for _, p := range e.pages() {
			return p.Document
		}
	}
	return ""
}

// Key returns a figure's name as requirements and programs write it: page_recall@5.
func Key(name string) string {
	words := strings.FieldsFunc(strings.ToLower(name), func(r rune) bool { return r == ' ' || r == ',' || r == '_' || r == '-' })
	return strings.Join(words, "_")
}

// LessIsBetter tells whether a figure is the better the lower it is.
func LessIsBetter(name string) bool {
	return slices.ContainsFunc(kinds, func(k kind) bool { return k.name == name && k.less })
}

// samples are what records add to a figure.
func (k kind) samples(records []Record) []sample {
	var out []sample
	for i := range records {
		if v, w := k.of(&records[i]); w > 0 {
			out = append(out, sample{v, w, records[i].document()})
		}
	}
	return out
}

// figures computes every figure for which there are questions.
func figures(kinds []kind, records []Record) []Figure {
	out := []Figure{}
	for _, k := range kinds {
		samples := k.samples(records)
		if len(samples) == 0 {
			continue
		}
		f := Figure{Name: k.name, Value: round(mean(samples, all(len(samples)))), Questions: len(samples)}
		f.Low, f.High = interval(samples, func(pick []int) float64 { return mean(samples, pick) })
		out = append(out, f)
	}
	return out
}

// A pageOf names one page.
type pageOf struct {
	document string
	number   int
}

// gain returns the normalised discounted cumulative gain of the retrieved
// passages (Järvelin and Kekäläinen, 2002): a page that proves counts once, at
// the first passage that holds it. The ideal has one such page a passage, as
// many as there are and at most ten.
func gain(evidence []Evidence, retrieved []Retrieved) float64 {
	pages := map[pageOf]bool{}
	for _, e := range evidence {
		for _, p := range e.pages() {
			pages[pageOf{p.Document, p.Page}] = true
		}
	}
	discount := func(i int) float64 { return 1 / math.Log2(float64(i)+2) }
	ideal, got := 0.0, 0.0
	for i := range min(len(pages), depthOfMetric) {
		ideal += discount(i)
	}
	for i, r := range retrieved {
		for _, n := range r.Pages {
			if at := (pageOf{r.Document, n}); pages[at] {
				delete(pages, at)
				got += discount(i)
				break
			}
		}
	}
	if ideal == 0 {
		return 0
	}
	return min(1, got/ideal)
}

func truth(b bool) float64 {
	if b {
		return 1
	}
	return 0
}

func round(x float64) float64 { return math.Round(x*10000) / 10000 }

// stages summarises the timings.
func stages(records []Record) []Stage {
	kinds := []struct {
		name string
		of   func(*Record) float64
	}{
		{"search", func(r *Record) float64 { return r.Timing.Search }},
		{"reading", func(r *Record) float64 { return r.Timing.Reading }},
		{"composing", func(r *Record) float64 { return r.Timing.Composing }},
		{"total", func(r *Record) float64 { return r.Timing.Total }},
	}
	var out []Stage
	for _, kind := range kinds {
		times := make([]float64, len(records))
		for i := range records {
			times[i] = kind.of(&records[i])
		}
		slices.Sort(times)
		at := func(p float64) float64 { return times[min(len(times)-1, int(p*float64(len(times))))] }
		out = append(out, Stage{kind.name, at(0.5), at(0.95), at(0.99)})
	}
	return out
}

// Success is the name of the share of questions that came out as they should: answered rightly
// with their page, or rightly refused.
const Success = "as they should"

var success = kind{name: Success, of: func(r *Record) (float64, float64) { return truth(r.Succeeded()), truth(r.Outcome != Unjudged) }}

// FigureOf computes one figure over records, by its key; the share of questions that came out as they
// should for an empty one.
func FigureOf(key string, records []Record) (Figure, error) {
	k, err := kindOf(key)
	if err != nil {
		return Figure{}, err
	}
	out := figures([]kind{k}, records)
	if len(out) == 0 {
		return Figure{Name: k.name}, nil
	}
	return out[0], nil
}

// kindOf returns the kind of figure with a key; that of all successes for an empty one.
func kindOf(key string) (kind, error) {
	if key == "" || key == Key(Success) {
		return success, nil
	}
	known := []string{}
	for _, k := range kinds {
		if Key(k.name) == key {
			return k, nil
		}
		known = append(known, Key(k.name))
	}
	return kind{}, fmt.Errorf("there is no figure %s; choose one of %s", key, strings.Join(known, ", "))
}

// RefuseBelow returns records as they would be if only answers of so much confidence or more
// were given.
func RefuseBelow(records []Record, certain float64) []Record {
	out := slices.Clone(records)
	for i := range out {
		if r := &out[i]; !r.refused() && r.Confidence < certain {
			r.State, r.Citations, r.Proving, r.Cited = "not_found", nil, 0, false
			if r.Outcome = Right; r.Answerable {
				r.Outcome = Refused
			}
		}
	}
	return out
}
