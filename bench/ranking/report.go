package main

import (
	"fmt"
	"maps"
	"math/rand/v2"
	"os"
	"slices"
	"text/tabwriter"
)

// crossed prints the figures of questions ranked by weights that were fitted
// without those on the same document.
func crossed(title string, lists []list) {
	places := map[string][]int{}
	for _, v := range variants {
		weights := map[string][]float64{}
		for i := range lists {
			document := lists[i].Document
			if weights[document] == nil {
				rest := slices.DeleteFunc(slices.Clone(lists), func(l list) bool { return l.Document == document })
				weights[document] = fit(rest, v.features)
			}
			places[v.name] = append(places[v.name], lists[i].place(weights[document]))
		}
	}
	table(title, lists, places)
}

// compare prints the figures of questions ranked by given weights.
func compare(title string, lists []list, weights map[string][]float64) {
	places := map[string][]int{}
	for _, v := range variants {
		for i := range lists {
			places[v.name] = append(places[v.name], lists[i].place(weights[v.name]))
		}
	}
	table(title, lists, places)
}

func table(title string, lists []list, places map[string][]int) {
	kinds := map[string][]int{}
	for i, l := range lists {
		kinds[l.Kind] = append(kinds[l.Kind], i)
		kinds["all"] = append(kinds["all"], i)
	}
	if len(kinds) == 2 {
		delete(kinds, "all")
	}
	fmt.Printf("\n%s\n", title)
	w := tabwriter.NewWriter(os.Stdout, 0, 0, 2, ' ', 0)
	fmt.Fprintln(w, "KIND\tQUESTIONS\tRANKING\tRECALL@5\tOVER WORDS, 95 %\tMRR@10\tOVER WORDS, 95 %\tRECALL@30")
	for _, kind := range slices.Sorted(maps.Keys(kinds)) {
		for _, v := range variants {
			five, reciprocal, thirty := within(places[v.name], kinds[kind], 5), reciprocals(places[v.name], kinds[kind]), within(places[v.name], kinds[kind], 30)
			base := places[variants[0].name]
			fmt.Fprintf(w, "%s\t%d\t%s\t%.3f\t%s\t%.3f\t%s\t%.3f\n", kind, len(kinds[kind]), v.name,
				mean(five), interval(five, within(base, kinds[kind], 5)), mean(reciprocal), interval(reciprocal, reciprocals(base, kinds[kind])), mean(thirty))
		}
	}
	w.Flush()
}

func within(places, of []int, most int) []float64 {
	out := make([]float64, len(of))
	for k, i := range of {
		if places[i] > 0 && places[i] <= most {
			out[k] = 1
		}
	}
	return out
}

func reciprocals(places, of []int) []float64 {
	out := within(places, of, 10)
	for k, i := range of {
		if out[k] > 0 {
			out[k] = 1 / float64(places[i])
		}
	}
	return out
}

func mean(values []float64) float64 {
	sum := 0.0
	for _, v := range values {
		sum += v
	}
	return sum / float64(max(1, len(values)))
}

// interval returns the 95 % interval of the mean difference of paired values, by
// bootstrap (Efron 1979).
func interval(a, b []float64) string {
	random := rand.New(rand.NewPCG(1, 1))
	means := make([]float64, 2000)
	for i := range means {
		for range a {
			k := random.IntN(len(a))
			means[i] += a[k] - b[k]
		}
		means[i] /= float64(len(a))
	}
	slices.Sort(means)
	return fmt.Sprintf("%+.2f … %+.2f", means[50], means[1949])
}
