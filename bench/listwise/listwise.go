// Package listwise fits weights that put the right ones of several candidates
// first: the probability of a candidate is the softmax of the scores of all (Cao et
// al. 2007).
package listwise

import "math"

// A List is candidates for one question, some of them right.
type List struct {
	Features [][]float64
	Right    []bool
}

// Score returns the sum of features, each times its weight.
func Score(weights, features []float64) float64 {
	sum := 0.0
	for k, v := range features {
		sum += weights[k] * v
	}
	return sum
}

// Likelihoods returns the softmax over all candidates and over the right ones.
func (l *List) Likelihoods(weights []float64) (all, right []float64) {
	all, right = make([]float64, len(l.Features)), make([]float64, len(l.Features))
	most := math.Inf(-1)
	for i, f := range l.Features {
		all[i] = Score(weights, f)
		most = max(most, all[i])
	}
	sum, sumRight := 0.0, 0.0
	for i := range all {
		all[i] = math.Exp(all[i] - most)
		sum += all[i]
		if l.Right[i] {
			sumRight += all[i]
		}
	}
	for i := range all {
		if l.Right[i] && sumRight > 0 {
			right[i] = all[i] / sumRight
		}
		all[i] /= sum
	}
	return all, right
}

// hardly is how little a candidate may move the weights to be left out.
const hardly = 1e-6

// Uphill adds to a gradient the direction in which the right ones get likelier.
func (l *List) Uphill(weights, gradient []float64) {
	all, right := l.Likelihoods(weights)
	for i, f := range l.Features {
		step := right[i] - all[i]
		if math.Abs(step) < hardly {
			continue
		}
		for k, v := range f {
			gradient[k] += step * v
		}
	}
}
