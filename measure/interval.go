package measure

import (
	"math/rand/v2"
	"slices"
)

// A sample is what one question adds to a figure: a value, how much it counts, and the
// document that it is about.
type sample struct {
	value, weight float64
	document      string
}

// mean is the weighted mean of the samples picked.
func mean(samples []sample, pick []int) float64 {
	sum, total := 0.0, 0.0
	for _, i := range pick {
		sum, total = sum+samples[i].value*samples[i].weight, total+samples[i].weight
	}
	if total == 0 {
		return 0
	}
	return sum / total
}

// all picks every sample once.
func all(n int) []int {
	out := make([]int, n)
	for i := range out {
		out[i] = i
	}
	return out
}

// resamples is how often figures are drawn anew.
const resamples = 1000

// interval returns the 2.5th and 97.5th percentiles of a statistic over draws of the samples,
// with replacement: first of documents, since questions about one document succeed and fail
// together, and then of each one's questions (Davison and Hinkley, 1997, §3.8).
func interval(samples []sample, statistic func(pick []int) float64) (low, high float64) {
	draw := drawer(samples)
	out := make([]float64, resamples)
	for i := range out {
		out[i] = statistic(draw())
	}
	slices.Sort(out)
	return round(out[resamples*25/1000]), round(out[resamples*975/1000-1])
}

// drawer returns what draws from the samples. It begins the same each time, so that one
// measurement has one interval.
func drawer(samples []sample) func() []int {
	var groups [][]int
	place := map[string]int{}
	for i, s := range samples {
		at, ok := place[s.document]
		if !ok || s.document == "" {
			at = len(groups)
			place[s.document] = at
			groups = append(groups, nil)
		}
		groups[at] = append(groups[at], i)
	}
	random := rand.New(rand.NewPCG(uint64(len(samples)), 1979))
	pick := make([]int, 0, len(samples))
	return func() []int {
		pick = pick[:0]
		for range groups {
			group := groups[random.IntN(len(groups))]
			for range group {
				pick = append(pick, group[random.IntN(len(group))])
			}
		}
		return pick
	}
}
