package main

import (
	"math"
	"math/rand/v2"
	"sync"
)

// Settings of skip-gram with negative sampling (Mikolov et al. 2013).
const (
	dimensions = 128
	window     = 5
	negatives  = 5
	epochs     = 3
	rate       = 0.05
	subsample  = 1e-4
	workers    = 2      // fixed, so that the same text gives the same vectors
	stretch    = 60_000 // tokens that a worker goes between two meetings
	seed       = 1949
)

// A trainer holds the two matrices, by rows.
type trainer struct {
	counts   []int
	total    int
	in, out  []float32
	table    []int32 // for drawing negatives
	logistic [1024]float32
}

func newTrainer(counts []int) *trainer {
	t := &trainer{counts: counts, in: make([]float32, len(counts)*dimensions), out: make([]float32, len(counts)*dimensions)}
	random := rand.New(rand.NewPCG(seed, 1))
	for i := range t.in {
		t.in[i] = (random.Float32() - 0.5) / dimensions
	}
	sum := 0.0
	for _, n := range counts {
		t.total += n
		sum += math.Pow(float64(n), 0.75)
	}
	const size = 1 << 22
	for i, n := range counts {
		for range int(math.Round(math.Pow(float64(n), 0.75) / sum * size)) {
			t.table = append(t.table, int32(i))
		}
	}
	for i := range t.logistic {
		t.logistic[i] = float32(1 / (1 + math.Exp(-(float64(i)/512-1)*6)))
	}
	return t
}

// train goes over the text epochs times. Workers go on from the same vectors,
// each over its own stretch, and then their changes are added up, so that the
// outcome does not depend on the order in which they are done.
func (t *trainer) train(text []int32, progress func(share float64)) {
	steps := 0
	all := epochs * (len(text) + workers*stretch - 1) / (workers * stretch)
	copies := make([]*worker, workers)
	for i := range copies {
		copies[i] = &worker{trainer: t, in: make([]float32, len(t.in)), out: make([]float32, len(t.out))}
	}
	for epoch := range epochs {
		for start := 0; start < len(text); start += workers * stretch {
			done := float64(steps) / float64(all)
			var wg sync.WaitGroup
			for i, w := range copies {
				from := min(len(text), start+i*stretch)
				part := text[from:min(len(text), from+stretch)]
				w.random = rand.New(rand.NewPCG(seed+uint64(epoch), uint64(start*workers+i)))
				wg.Go(func() { w.walk(part, float32(rate*max(1-done, 1e-4))) })
			}
			wg.Wait()
			meet(t.in, copies[0].in, copies[1].in)
			meet(t.out, copies[0].out, copies[1].out)
			steps++
			progress(float64(steps) / float64(all))
		}
	}
}

// forget clears the vectors of words that the text does not hold.
func (t *trainer) forget() {
	for w, n := range t.counts {
		if n == 0 {
			clear(t.in[w*dimensions : (w+1)*dimensions])
		}
	}
}

// meet adds the changes of both workers to what they began with.
func meet(base, a, b []float32) {
	var wg sync.WaitGroup
	half := len(base) / 2
	for _, r := range [][2]int{{0, half}, {half, len(base)}} {
		wg.Go(func() {
			for i := r[0]; i < r[1]; i++ {
				base[i] = a[i] + b[i] - base[i]
			}
		})
	}
	wg.Wait()
}

// A worker changes copies of the vectors.
type worker struct {
	*trainer
	in, out []float32
	random  *rand.Rand
}

func (w *worker) walk(text []int32, rate float32) {
	copy(w.in, w.trainer.in)
	copy(w.out, w.trainer.out)
	kept := make([]int32, 0, len(text))
	for _, id := range text {
		if id < 0 { // the end of a line
			kept = append(kept, id)
			continue
		}
		share := float64(w.counts[id]) / float64(w.total)
		if keep := math.Sqrt(subsample/share) + subsample/share; keep >= 1 || w.random.Float64() < keep {
			kept = append(kept, id)
		}
	}
	gradient := make([]float32, dimensions)
	for i, centre := range kept {
		if centre < 0 {
			continue
		}
		reach := 1 + w.random.IntN(window)
		for d := -1; d <= 1; d += 2 {
			for j := 1; j <= reach; j++ {
				at := i + d*j
				if at < 0 || at >= len(kept) || kept[at] < 0 {
					break
				}
				w.pair(kept[at], centre, rate, gradient)
			}
		}
	}
}

// pair draws a word towards one that stands near it and away from others.
func (w *worker) pair(word, near int32, rate float32, gradient []float32) {
	row := w.in[int(word)*dimensions : int(word+1)*dimensions]
	clear(gradient)
	for k := 0; k <= negatives; k++ {
		target, label := near, float32(1)
		if k > 0 {
			target, label = w.table[w.random.IntN(len(w.table))], 0
			if target == near {
				continue
			}
		}
		other := w.out[int(target)*dimensions : int(target+1)*dimensions]
		dot := float32(0)
		for i, x := range row {
			dot += x * other[i]
		}
		g := (label - w.sigmoid(dot)) * rate
		for i := range row {
			gradient[i] += g * other[i]
			other[i] += g * row[i]
		}
	}
	for i := range row {
		row[i] += gradient[i]
	}
}

func (t *trainer) sigmoid(x float32) float32 {
	switch {
	case x >= 6:
		return 1
	case x <= -6:
		return 0
	}
	return t.logistic[min(int((x/6+1)*512), len(t.logistic)-1)]
}
