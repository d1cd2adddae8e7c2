package main

import (
	"fmt"
	"log"
	"math"
	"os"
	"text/tabwriter"

	"jardinet/answer"
)

// A sample is what is known of one answer and whether it was right.
type sample struct {
	kind       string
	signals    []float64
	right      bool
	answerable bool
}

// Newton's method is as near as need be after so many steps.
const newtonSteps = 12

// shrinkages are the penalties on the weights that are tried.
var shrinkages = []float64{0.0003, 0.001, 0.003, 0.01, 0.03}

// chooseShrinkage returns the penalty whose weights make samples likeliest that
// were left out of the fit.
func chooseShrinkage(samples []sample) float64 {
	best, chosen := math.Inf(-1), 0.0
	for _, penalty := range shrinkages {
		sum := 0.0
		for fold := range folds {
			var in []sample
			for i, s := range samples {
				if i%folds != fold {
					in = append(in, s)
				}
			}
			w := fitConfidence(in, penalty)
			for i := fold; i < len(samples); i += folds {
				p := likely(w, samples[i].signals)
				if !samples[i].right {
					p = 1 - p
				}
				sum += math.Log(p)
			}
		}
		log.Printf("confidence, penalty %g: log likelihood %.4f", penalty, sum/float64(len(samples)))
		if sum > best {
			best, chosen = sum, penalty
		}
	}
	return chosen
}

// fitConfidence returns the weights of a logistic regression, by Newton's method.
func fitConfidence(samples []sample, penalty float64) []float64 {
	w := make([]float64, len(samples[0].signals))
	for range newtonSteps {
		gradient, curvature := slope(samples, w, penalty)
		for k, step := range solve(curvature, gradient) {
			w[k] += step
		}
	}
	return w
}

// slope returns the gradient of the mean log likelihood less the penalty, and its
// curvature, turned so that it is positive.
func slope(samples []sample, w []float64, penalty float64) ([]float64, [][]float64) {
	gradient, curvature := make([]float64, len(w)), make([][]float64, len(w))
	for k := range w {
		curvature[k] = make([]float64, len(w))
	}
	n := float64(len(samples))
	for _, s := range samples {
		p := likely(w, s.signals)
		miss := -p
		if s.right {
			miss++
		}
		for k, v := range s.signals {
			gradient[k] += miss * v / n
			for j, u := range s.signals[:k+1] {
				curvature[k][j] += p * (1 - p) * v * u / n
			}
		}
	}
	for k := range w {
		if k > 0 {
			gradient[k] -= penalty * w[k]
			curvature[k][k] += penalty
		}
		curvature[k][k] += 1e-9 // a signal that is nothing in all samples has none
		for j := range k {
			curvature[j][k] = curvature[k][j]
		}
	}
	return gradient, curvature
}

// solve returns x for which the matrix times x is y, by elimination; the matrix is
// positive definite. Both are overwritten.
func solve(matrix [][]float64, y []float64) []float64 {
	for k := range y {
		for i := k + 1; i < len(y); i++ {
			f := matrix[i][k] / matrix[k][k]
			for j := k; j < len(y); j++ {
				matrix[i][j] -= f * matrix[k][j]
			}
			y[i] -= f * y[k]
		}
	}
	for k := len(y) - 1; k >= 0; k-- {
		for j := k + 1; j < len(y); j++ {
			y[k] -= matrix[k][j] * y[j]
		}
		y[k] /= matrix[k][k]
	}
	return y
}

func likely(w, signals []float64) float64 {
	sum := 0.0
	for k, v := range signals {
		sum += w[k] * v
	}
	return 1 / (1 + math.Exp(-sum))
}

// What a wrong answer costs against what a right one is worth, for choosing
// from when on to answer: one to a question that the documents answer, and one
// that is invented.
const (
	costWrong    = 0.5
	costInvented = 3
)

// unanswered is the share of questions without an answer that is reckoned with; among
// those to train on are more.
const unanswered = 0.1

// silence is the share of the questions without an answer that are refused at least,
// whatever the costs say: those to train on are near misses, and so harder than most.
const silence = 0.9

// worthFrom returns what the answers are worth that are as sure as that, of which each
// invented one costs so much, and how many are invented.
func worthFrom(samples []sample, w []float64, at, each float64) (worth, invented float64) {
	for _, s := range samples {
		switch {
		case likely(w, s.signals) < at:
		case s.right:
			worth++
		case s.answerable:
			worth -= costWrong
		default:
			worth -= each
			invented++
		}
	}
	return worth, invented
}

// answerFrom returns from which confidence on an answer is given: from where they are
// worth the most, of which each invented one costs so much, or from where on enough of
// the questions without an answer are refused.
func answerFrom(samples []sample, w []float64, each float64) float64 {
	others := 0.0
	for _, s := range samples {
		if !s.answerable {
			others++
		}
	}
	best, from, silent := 0.0, 1.0, 1.0
	for at := 0.95; at > 0.05; at -= 0.01 {
		worth, invented := worthFrom(samples, w, at, each)
		if worth > 0 && worth >= best { // of equals the one that answers most
			best, from = worth, at
		}
		if invented <= (1-silence)*others {
			silent = at
		}
	}
	log.Printf("worth is the most from %.2f on, and enough is refused from %.2f on", from, silent)
	return math.Round(100*max(from, silent)) / 100
}

// costOfEach is what an invented answer costs for choosing among questions of which more
// have no answer than usual.
func costOfEach(answerable, others float64) float64 {
	return costInvented * unanswered / (1 - unanswered) * answerable / others
}

// writeConfidence writes the weights, and from which confidence on to answer.
func writeConfidence(samples []sample, w []float64) error {
	answerable, others := 0.0, 1e-9
	for _, s := range samples {
		if s.answerable {
			answerable++
		} else {
			others++
		}
	}
	from := answerFrom(samples, w, costOfEach(answerable, others))
	return writeWeights("answer/confidence.json", answer.SignalNames, w, map[string]any{"answer_from": from, "whole_from": 0.6}, len(samples))
}

// curve prints risk against coverage.
func curve(title string, samples []sample, w []float64) {
	fmt.Printf("\n%s, %d answers\n", title, len(samples))
	table := tabwriter.NewWriter(os.Stdout, 0, 0, 2, ' ', 0)
	fmt.Fprintln(table, "FROM CONFIDENCE\tANSWERED\tWRONG OF THOSE\tANSWERABLE REFUSED\tUNANSWERABLE REFUSED")
	for _, from := range []float64{0, 0.2, 0.3, 0.35, 0.4, 0.45, 0.5, 0.6, 0.7, 0.8} {
		var given, wrong, can, refused, cannot, silent float64
		for _, s := range samples {
			confidence := likely(w, s.signals)
			if s.answerable {
				can++
			} else {
				cannot++
			}
			switch {
			case confidence >= from && !s.right:
				wrong++
				given++
			case confidence >= from:
				given++
			case s.answerable:
				refused++
			default:
				silent++
			}
		}
		fmt.Fprintf(table, "%.2f\t%.3f\t%.3f\t%.3f\t%.3f\n", from, given/float64(len(samples)), wrong/max(1, given), refused/max(1, can), silent/max(1, cannot))
	}
	table.Flush()
}
