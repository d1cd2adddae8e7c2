package main

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/mat"
)

// shrink is how strongly weights are held near 0 (ridge).
const shrink = 1.0

// fit fits logistic regression of being right by Newton's method.
func fit(all []asked) []float64 {
	n := len(all[0].signals.Vector())
	weights := make([]float64, n)
	for range 30 {
		gradient := mat.NewVecDense(n, nil)
		hessian := mat.NewSymDense(n, nil)
		for _, a := range all {
			x := a.signals.Vector()
			p := likely(weights, x)
			y := 0.0
			if a.right {
				y = 1
			}
			for i := range x {
				gradient.SetVec(i, gradient.AtVec(i)+(y-p)*x[i])
				for j := i; j < n; j++ {
					hessian.SetSym(i, j, hessian.At(i, j)+p*(1-p)*x[i]*x[j])
				}
			}
		}
		for i := range n {
			hessian.SetSym(i, i, hessian.At(i, i)+shrink)
			gradient.SetVec(i, gradient.AtVec(i)-shrink*weights[i])
		}
		var chol mat.Cholesky
		if !chol.Factorize(hessian) {
			break
		}
		var step mat.VecDense
		if err := chol.SolveVecTo(&step, gradient); err != nil {
			break
		}
		for i := range weights {
			weights[i] += step.AtVec(i)
		}
	}
	for i, w := range weights {
		weights[i] = math.Round(100*w) / 100
	}
	return weights
}

func likely(weights, x []float64) float64 {
	sum := 0.0
	for i, w := range weights {
		sum += w * x[i]
	}
	return 1 / (1 + math.Exp(-sum))
}

// curve prints what comes of answering only what is at least so sure, and how often a span
// of some probability holds an accepted wording where its sentence does.
func curve(all []asked, weights []float64) {
	fmt.Printf("\n%6s %10s %10s %10s %10s\n", "from", "right", "refused", "wrongly", "wrong of")
	fmt.Printf("%6s %10s %10s %10s %10s\n", "", "", "rightly", "refused", "the given")
	for from := 0.0; from < 0.96; from += 0.05 {
		answerable, unanswerable, right, rightly, wrongly, given, wrong := 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
		for _, a := range all {
			refused := likely(weights, a.signals.Vector()) < from
			if a.answerable {
				answerable++
			} else {
				unanswerable++
			}
			switch {
			case refused && a.answerable:
				wrongly++
			case refused:
				rightly++
			case a.right:
				right++
				given++
			default:
				wrong++
				given++
			}
		}
		fmt.Printf("%6.2f %10.3f %10.3f %10.3f %10.3f\n", from, right/answerable, rightly/unanswerable, wrongly/answerable, wrong/max(1, given))
	}
	spans := slices.DeleteFunc(slices.Clone(all), func(a asked) bool { return !a.said })
	slices.SortFunc(spans, func(a, b asked) int { return cmp.Compare(b.sure, a.sure) })
	fmt.Printf("\nOf %d answers whose statements hold an accepted wording, so many do by their words alone, the surest first:", len(spans))
	held := 0
	for i, a := range spans {
		if a.words {
			held++
		}
		if (i+1)%max(1, len(spans)/8) == 0 {
			fmt.Printf("\n%6.2f %6.3f", a.sure, float64(held)/float64(i+1))
		}
	}
	fmt.Println()
}
