package listwise

import (
	"math"
	"testing"
)

func TestLikelihoodsAreShares(t *testing.T) {
	l := List{Features: [][]float64{{1, 0}, {0, 1}, {1, 1}}, Right: []bool{true, false, true}}
	all, right := l.Likelihoods([]float64{0, math.Log(3)})
	for i, want := range []float64{1. / 7, 3. / 7, 3. / 7} {
		if math.Abs(all[i]-want) > 1e-9 {
			t.Errorf("of all, %d has %.3f, want %.3f", i, all[i], want)
		}
	}
	for i, want := range []float64{0.25, 0, 0.75} {
		if math.Abs(right[i]-want) > 1e-9 {
			t.Errorf("of the right ones, %d has %.3f, want %.3f", i, right[i], want)
		}
	}
	if all, _ := (&List{Features: [][]float64{{1e4}, {0}}, Right: []bool{true, false}}).Likelihoods([]float64{1}); all[0] != 1 || all[1] != 0 {
		t.Errorf("a great lead gives %v", all)
	}
}

// TestUphillIsTheGradient compares it with what a small step does to the logarithm
// of the right ones' probability.
func TestUphillIsTheGradient(t *testing.T) {
	l := List{Features: [][]float64{{1, 0.2}, {0.3, 1}, {0.7, 0.9}, {0, 0}}, Right: []bool{true, false, true, false}}
	w, g := []float64{0.4, -0.3}, make([]float64, 2)
	l.Uphill(w, g)
	log := func(w []float64) float64 {
		all, _ := l.Likelihoods(w)
		return math.Log(all[0] + all[2])
	}
	const step = 1e-5
	for k := range w {
		moved := []float64{w[0], w[1]}
		moved[k] += step
		if slope := (log(moved) - log(w)) / step; math.Abs(slope-g[k]) > 1e-4 {
			t.Errorf("weight %d: gradient %.5f, slope %.5f", k, g[k], slope)
		}
	}
}

func TestHopelessListsMoveNothing(t *testing.T) {
	l := List{Features: [][]float64{{1}, {2}}, Right: []bool{true, true}}
	g := make([]float64, 1)
	if l.Uphill([]float64{1}, g); math.Abs(g[0]) > 1e-9 {
		t.Errorf("where all are right the weights move by %g", g[0])
	}
}
