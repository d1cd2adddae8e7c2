package main

import (
	"math"
	"sync"
)

// Settings of contrastive tuning.
const (
	batch       = 512
	temperature = 0.06
	tuneRate    = 0.006 // Adagrad (Duchi et al. 2011)
	tuneEpochs  = 2
)

// tune changes the vectors, by rows, so that the sums of the words of a pair
// point the same way, and other ways than those of the other pairs of a batch
// (InfoNCE, van den Oord et al. 2018). Word vectors keep a length, which becomes
// how much the word tells.
func tune(vectors []float32, pairs []pair, progress func(share float64)) {
	t := &tuner{vectors: vectors, squares: make([]float32, len(vectors))}
	t.a, t.b = newSide(), newSide()
	all := tuneEpochs * (len(pairs) / batch)
	for step := range all {
		at := step % (len(pairs) / batch) * batch
		t.step(pairs[at : at+batch])
		progress(float64(step+1) / float64(all))
	}
}

type tuner struct {
	vectors, squares []float32
	a, b             *side
	weights          [batch * batch]float32
}

// A side is the texts of one side of a batch.
type side struct {
	unit     [batch][]float32
	norm     [batch]float32
	gradient [batch][]float32
}

func newSide() *side {
	s := &side{}
	for i := range batch {
		s.unit[i], s.gradient[i] = make([]float32, dimensions), make([]float32, dimensions)
	}
	return s
}

func (t *tuner) step(pairs []pair) {
	split(func(i int) {
		t.a.norm[i] = t.sum(pairs[i].a, t.a.unit[i])
		t.b.norm[i] = t.sum(pairs[i].b, t.b.unit[i])
	})
	split(func(i int) { t.softmax(i) })
	split(func(i int) {
		t.backward(t.a, t.b, i, func(j int) float32 { return t.weights[i*batch+j] })
		t.backward(t.b, t.a, i, func(j int) float32 { return t.weights[j*batch+i] })
	})
	for i, p := range pairs {
		t.change(p.a, t.a.gradient[i])
		t.change(p.b, t.b.gradient[i])
	}
}

// split calls f for each row of a batch, on two cores.
func split(f func(i int)) {
	var wg sync.WaitGroup
	for w := range workers {
		wg.Go(func() {
			for i := w; i < batch; i += workers {
				f(i)
			}
		})
	}
	wg.Wait()
}

// sum adds up a text's words and makes the sum unit length, which it returns.
func (t *tuner) sum(words []int32, into []float32) float32 {
	clear(into)
	for _, w := range words {
		for d, v := range t.vectors[int(w)*dimensions : int(w+1)*dimensions] {
			into[d] += v
		}
	}
	norm := float32(math.Sqrt(float64(dot(into, into)))) + 1e-6
	for d := range into {
		into[d] /= norm
	}
	return norm
}

func dot(a, b []float32) float32 {
	var s0, s1, s2, s3 float32
	b = b[:len(a)]
	for i := 0; i+3 < len(a); i += 4 {
		s0 += a[i] * b[i]
		s1 += a[i+1] * b[i+1]
		s2 += a[i+2] * b[i+2]
		s3 += a[i+3] * b[i+3]
	}
	return s0 + s1 + s2 + s3
}

// softmax fills in row i of the loss's derivatives by the similarities.
func (t *tuner) softmax(i int) {
	row := t.weights[i*batch : (i+1)*batch]
	sum := 0.0
	for j := range row {
		row[j] = float32(math.Exp(float64(dot(t.a.unit[i], t.b.unit[j])-1) / temperature))
		sum += float64(row[j])
	}
	for j := range row {
		row[j] /= float32(sum)
	}
	row[i]--
}

// backward works out how the sum of text i of one side should change.
func (t *tuner) backward(of, other *side, i int, weight func(j int) float32) {
	g := of.gradient[i]
	clear(g)
	for j := range batch {
		w := weight(j)
		if w < 1e-5 && w > -1e-5 {
			continue
		}
		for d, v := range other.unit[j] {
			g[d] += w * v
		}
	}
	along := dot(g, of.unit[i])
	for d := range g {
		g[d] = (g[d] - along*of.unit[i][d]) / (of.norm[i] * temperature)
	}
}

// change moves the words of a text against a gradient.
func (t *tuner) change(words []int32, gradient []float32) {
	for _, w := range words {
		row, squares := t.vectors[int(w)*dimensions:int(w+1)*dimensions], t.squares[int(w)*dimensions:int(w+1)*dimensions]
		for d, g := range gradient {
			squares[d] += g * g
			row[d] -= tuneRate * g / float32(math.Sqrt(float64(squares[d]))+1e-6)
		}
	}
}
