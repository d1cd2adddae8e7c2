package measure

import (
	"math"
	"math/rand/v2"
	"slices"
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

// figures computes every figure for which there are questions.
func figures(records []Record) []Figure {
	within := func(k int) func(Record) (float64, float64) {
		return func(r Record) (float64, float64) {
			return truth(r.Rank > 0 && r.Rank <= k), truth(len(r.question.Evidence) > 0)
		}
	}
	can := func(r Record) float64 { return truth(r.question.CanBeAnswered()) }
	judged := func(r Record) float64 { return truth(r.question.CanBeAnswered() && len(r.question.Accept) > 0) }
	kinds := []struct {
		name string
		of   func(Record) (value, weight float64)
	}{
		{Recall1, within(1)},
		{Recall3, within(3)},
		{Recall5, within(5)},
		{Recall10, within(10)},
		{MRR10, func(r Record) (float64, float64) {
			if r.Rank == 0 {
				return 0, truth(len(r.question.Evidence) > 0)
			}
			return 1 / float64(r.Rank), 1
		}},
		{NDCG10, func(r Record) (float64, float64) {
			return gain(r.question.Evidence, r.Retrieved), truth(len(r.question.Evidence) > 0)
		}},
		{Accepted, func(r Record) (float64, float64) { return truth(r.Outcome == Right), judged(r) }},
		{Proved, func(r Record) (float64, float64) {
			return truth(r.Outcome == Right && r.Cited), judged(r) * truth(len(r.question.Evidence) > 0)
		}},
		{Precision, func(r Record) (float64, float64) {
			n := float64(len(r.Citations)) * truth(len(r.question.Evidence) > 0)
			return float64(r.Proving) / max(1, float64(len(r.Citations))), n
		}},
		{RefusedWell, func(r Record) (float64, float64) { return truth(r.State == "not_found"), 1 - can(r) }},
		{RefusedBad, func(r Record) (float64, float64) { return truth(r.State == "not_found"), can(r) }},
		{WrongGiven, func(r Record) (float64, float64) {
			proven := r.Cited || len(r.question.Evidence) == 0
			return truth(r.Outcome != Right || !proven), truth(r.State != "not_found" && r.Outcome != Unjudged)
		}},
	}
	var out []Figure
	for _, kind := range kinds {
		var values, weights []float64
		for _, r := range records {
			if v, w := kind.of(r); w > 0 {
				values, weights = append(values, v), append(weights, w)
			}
		}
		if len(values) > 0 {
			f := Figure{Name: kind.name, Value: round(mean(values, weights, nil)), Questions: len(values)}
			f.Low, f.High = interval(values, weights)
			out = append(out, f)
		}
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

// mean returns the weighted mean of the values picked, or of all if pick is nil.
func mean(values, weights []float64, pick []int) float64 {
	sum, total := 0.0, 0.0
	if pick == nil {
		for i, v := range values {
			sum, total = sum+v*weights[i], total+weights[i]
		}
	}
	for _, i := range pick {
		sum, total = sum+values[i]*weights[i], total+weights[i]
	}
	if total == 0 {
		return 0
	}
	return sum / total
}

// interval returns the 2.5th and 97.5th percentile of the means of 1000
// resamples.
func interval(values, weights []float64) (low, high float64) {
	const resamples = 1000
	random := rand.New(rand.NewPCG(uint64(len(values)), 1979))
	means := make([]float64, resamples)
	pick := make([]int, len(values))
	for i := range means {
		for j := range pick {
			pick[j] = random.IntN(len(values))
		}
		means[i] = mean(values, weights, pick)
	}
	slices.Sort(means)
	return round(means[resamples*25/1000]), round(means[resamples*975/1000-1])
}

func round(x float64) float64 { return math.Round(x*10000) / 10000 }

// stages summarises the timings.
func stages(records []Record) []Stage {
	kinds := []struct {
		name string
		of   func(Record) float64
	}{
		{"search", func(r Record) float64 { return r.Timing.Search }},
		{"reading", func(r Record) float64 { return r.Timing.Reading }},
		{"composing", func(r Record) float64 { return r.Timing.Composing }},
		{"total", func(r Record) float64 { return r.Timing.Total }},
	}
	var out []Stage
	for _, kind := range kinds {
		times := make([]float64, len(records))
		for i, r := range records {
			times[i] = kind.of(r)
		}
		slices.Sort(times)
		at := func(p float64) float64 { return times[min(len(times)-1, int(p*float64(len(times))))] }
		out = append(out, Stage{kind.name, at(0.5), at(0.95), at(0.99)})
	}
	return out
}
