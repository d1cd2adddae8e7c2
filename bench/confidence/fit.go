package main

import (
	"fmt"
	"math"

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

// curve prints what comes of answering only what is at least so sure.
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
}

// spans prints how many short answers are right by the probability from which the words
// that answer are given in place of their sentences.
func spans(all []asked) {
	fmt.Printf("\n%6s %10s\n", "words", "right")
	for from := 0.0; from <= 1.01; from += 0.1 {
		answerable, right := 0.0, 0.0
		for _, a := range all {
			if a.answerable {
				answerable++
			}
			if a.proven && a.accepted(from) {
				right++
			}
		}
		fmt.Printf("%6.1f %10.3f\n", from, right/answerable)
	}
	fmt.Println()
}
