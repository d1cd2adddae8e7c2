package main

import (
	"encoding/json"
	"fmt"
	"log"
	"maps"
	"math"
	"os"
	"runtime"
	"slices"
	"sync"
	"text/tabwriter"

	"jardinet/answer"
	"jardinet/bench/listwise"
)

// A group is features that belong together; left out in turn, they show what
// each is good for.
type group struct {
	name     string
	features []string
}

var groups = []group{
	{"words of the sentence", []string{"inside", "gap", "pairs", "opening"}},
	{"like words", []string{"like"}},
	{"vectors", []string{"cosine", "around"}},
	{"what stands around it", []string{"label", "section", "title", "elsewhere", "unnamed", "missed", "misnumber", "covered"}},
	{"kind of answer", []string{"fits", "unfit", "meets", "lacks", "apart", "literal", "listed", "headed", "banded", "names", "argues", "apt"}},
	{"wording", []string{"aside", "subject", "defines", "tells", "bounds", "echoes", "rules", "denies", "opposed"}},
	{"form of the text", []string{"foreign", "bare", "listing", "keyed", "other", "entry", "heads", "mute"}},
	{"place of its passage", []string{"standing", "close"}},
}

var everything = answer.FeatureNames

// ofLessons are the features that lessons give; without any they are nothing.
var ofLessons = []string{"taught", "told"}

// against are the features that can only speak against a sentence; all others can
// only speak for it. Weights of the other sign fit a few training questions by
// chance and are not let in.
var against = []string{"gap", "elsewhere", "unnamed", "missed", "misnumber", "apart", "unfit", "lacks", "foreign", "aside", "bare", "listing", "other", "heads", "mute", "opposed"}

// Settings of the fit.
const (
	evidenceRounds = 800
	evidenceRate   = 0.3
)

var evidencePenalties = []float64{0.00003, 0.0001, 0.0003}

// fitEvidence returns weights, zero but for some features, that make the right
// alternatives likeliest: the probability of one is the softmax of the scores of
// all (listwise: Cao et al. 2007), gone up along its gradient.
func fitEvidence(questions []question, features []string, penalty float64) []float64 {
	return fitMore(questions, make([]float64, len(everything)), features, penalty)
}

// fitMore fits the weights of some features, given those of the others.
func fitMore(questions []question, given []float64, features []string, penalty float64) []float64 {
	w, square := slices.Clone(given), make([]float64, len(everything))
	on := make([]bool, len(everything))
	for k, name := range everything {
		on[k] = slices.Contains(features, name)
	}
	lists := vectors(questions)
	for range evidenceRounds {
		g := make([]float64, len(w))
		for _, l := range lists {
			l.Uphill(w, g)
		}
		for k := range w {
			if on[k] {
				g[k] = g[k]/float64(len(lists)) - penalty*w[k]
				square[k] += g[k] * g[k]
				w[k] += evidenceRate * g[k] / (math.Sqrt(square[k]) + 1e-9)
				if slices.Contains(against, everything[k]) {
					w[k] = min(w[k], 0)
				} else {
					w[k] = max(w[k], 0)
				}
			}
		}
	}
	return w
}

// vectors returns the alternatives to the questions that have a right one.
func vectors(questions []question) []listwise.List {
	var out []listwise.List
	for _, q := range questions {
		if !slices.Contains(q.right, true) {
			continue
		}
		var l listwise.List
		for i := range q.all {
			if !q.unclear[i] {
				l.Features = append(l.Features, q.all[i].Features.Vector())
				l.Right = append(l.Right, q.right[i])
			}
		}
		out = append(out, l)
	}
	return out
}

// choosePenalty returns the penalty by which left-out questions get right
// answers the likeliest.
func choosePenalty(questions []question) float64 {
	best, chosen := math.Inf(-1), 0.0
	for _, penalty := range evidencePenalties {
		sum, n := 0.0, 0
		sums := atOnce(folds, func(fold int) []float64 {
			in, out := split(questions, fold)
			return logLikelihoods(out, fitEvidence(in, everything, penalty))
		})
		for _, logs := range sums {
			for _, l := range logs {
				sum, n = sum+l, n+1
			}
		}
		log.Printf("evidence, penalty %g: log likelihood %.4f of %d", penalty, sum/float64(n), n)
		if sum > best {
			best, chosen = sum, penalty
		}
	}
	return chosen
}

// logLikelihoods are those of the right answers, by list.
func logLikelihoods(questions []question, w []float64) []float64 {
	var out []float64
	for _, l := range vectors(questions) {
		all, _ := l.Likelihoods(w)
		p := 1e-6
		for i, right := range l.Right {
			if right {
				p += all[i]
			}
		}
		out = append(out, math.Log(p))
	}
	return out
}

// atOnce does n things on all cores and returns what they give, in order.
func atOnce[T any](n int, do func(int) T) []T {
	out := make([]T, n)
	free := make(chan bool, runtime.GOMAXPROCS(0))
	var group sync.WaitGroup
	for i := range n {
		free <- true
		group.Go(func() {
			out[i] = do(i)
			<-free
		})
	}
	group.Wait()
	return out
}

func split(questions []question, fold int) (in, out []question) {
	for _, q := range questions {
		if q.fold == fold {
			out = append(out, q)
		} else {
			in = append(in, q)
		}
	}
	return in, out
}

// crossed answers each question by weights that were fitted on other documents'.
func crossed(questions []question, features []string, penalty float64) []sample {
	return slices.Concat(atOnce(folds, func(fold int) []sample {
		in, left := split(questions, fold)
		return weighed(left, fitEvidence(in, features, penalty))
	})...)
}

// weighed answers questions by some weights.
func weighed(questions []question, w []float64) []sample {
	var out []sample
	for _, q := range questions {
		all := slices.Clone(q.all)
		right := map[string]bool{}
		for i, a := range q.all {
			right[key(a)] = q.right[i]
		}
		signals := answer.Weigh(all, w)
		out = append(out, sample{q.kind, signals.Vector(), right[key(all[0])], q.answerable})
	}
	return out
}

// key tells alternatives of a question apart.
func key(a answer.Alternative) string {
	return fmt.Sprint(a.Text, a.Citations[0].DocumentID, a.Citations[0].Boxes)
}

// ablate prints which share of the answerable questions gets the right answer
// from the right page, if all are answered, with each group of features left out.
func ablate(title string, penalty float64, train, on []question) {
	kinds := []string{}
	for _, q := range on {
		if q.answerable && !slices.Contains(kinds, q.kind) {
			kinds = append(kinds, q.kind)
		}
	}
	slices.Sort(kinds)
	fmt.Printf("\n%s: right answer from the right page, if none is refused\n", title)
	w := tabwriter.NewWriter(os.Stdout, 0, 0, 2, ' ', 0)
	fmt.Fprint(w, "CHOSEN BY\tALL")
	for _, kind := range kinds {
		fmt.Fprintf(w, "\t%s", kind)
	}
	fmt.Fprintln(w)
	row := func(name string, features []string) {
		var samples []sample
		if &train[0] == &on[0] {
			samples = crossed(train, features, penalty)
		} else {
			samples = weighed(on, fitEvidence(train, features, penalty))
		}
		right, all := map[string]float64{}, map[string]float64{}
		for _, s := range samples {
			if !s.answerable {
				continue
			}
			all[s.kind]++
			all[""]++
			if s.right {
				right[s.kind]++
				right[""]++
			}
		}
		fmt.Fprintf(w, "%s\t%.3f", name, right[""]/all[""])
		for _, kind := range kinds {
			fmt.Fprintf(w, "\t%.2f", right[kind]/all[kind])
		}
		fmt.Fprintln(w)
	}
	row("all", everything)
	for _, g := range groups {
		if brief && &train[0] == &on[0] {
			break
		}
		row("− "+g.name, slices.DeleteFunc(slices.Clone(everything), func(f string) bool { return slices.Contains(g.features, f) }))
	}
	found := 0.0
	answerable := 0.0
	for _, q := range on {
		if q.answerable {
			answerable++
			if slices.Contains(q.right, true) {
				found++
			}
		}
	}
	w.Flush()
	fmt.Printf("(a right one is among the alternatives of %.3f)\n", found/answerable)
}

// writeEvidence fits and writes the weights of the features.
func writeEvidence(train []question, penalty float64) error {
	w := fitEvidence(train, everything, penalty)
	return writeWeights("answer/evidence.json", everything, w, map[string]any{}, len(vectors(train)))
}

// writeWeights writes named weights, with more, for the program to embed.
func writeWeights(path string, names []string, w []float64, more map[string]any, fitted int) error {
	named := map[string]float64{}
	for k, name := range names {
		named[name] = math.Round(1000*w[k]) / 1000
	}
	file := maps.Clone(more)
	file["weights"] = named
	file["provenance"] = map[string]any{"program": "bench/answers -fit", "questions": "training halves of bench/questions and demo/questions.jsonl", "answers": fitted}
	data, err := json.MarshalIndent(file, "", "  ")
	if err != nil {
		return err
	}
	fmt.Printf("%s\n", data)
	return os.WriteFile(path, append(data, '\n'), 0o644)
}
