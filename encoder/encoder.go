// Package encoder turns texts into vectors of meaning: texts that mean much the same
// point nearly the same way, whatever their words.
//
// A text is cut into pieces of a vocabulary, each piece is looked up as a row of
// numbers, and some layers of self-attention (Vaswani et al. 2017; the variant is BERT,
// Devlin et al. 2019) let the rows tell each other what they stand for here. The mean of
// the rows, brought to length one, is the text's vector (Reimers and Gurevych 2019).
//
// Nearly all of the time goes into products of matrices. Weights are kept as bytes with
// a scale for each column, and each row is brought to bytes on the way into a product;
// what that costs in accuracy stands in docs/benchmarks.md. The inner loops are written
// in assembly for two kinds of processors, which give the same bits, so that an index
// made on one machine holds on another.
//
// A model is one file, described in docs/model-format.md; another model of this family
// is another file and no code.
package encoder

import (
	"cmp"
	"context"
	"math"
	"runtime"
	"slices"
	"sync"
	"sync/atomic"
)

// A Role is what a text is to the model, which may mark the two with different words.
type Role int

// Roles of texts.
const (
	Passage Role = iota
	Query
)

// patienceKey is where a context keeps what work waits for.
type patienceKey struct{}

// Patiently returns a context under which encoding calls wait between layers, every few
// milliseconds, so that work in the background leaves the processors to what is urgent.
func Patiently(ctx context.Context, wait func(ctx context.Context)) context.Context {
	return context.WithValue(ctx, patienceKey{}, wait)
}

// chunk is how many tokens go through the layers at a time: enough to use each weight
// often while it is near, few enough for the rows to stay near as well.
const chunk = 256

// Encode returns a vector of length one for each text, working on all cores. What goes
// beyond the model's most tokens is left out. It ends early with the context's error.
func (m *Model) Encode(ctx context.Context, role Role, texts ...string) ([][]float32, error) {
	tokens := make([][]int32, len(texts))
	for i, t := range texts {
		tokens[i] = m.Tokens(m.prefix(role) + t)
	}
	out := make([][]float32, len(texts))
	err := m.run(ctx, tokens, func(i int, rows []float32) { out[i] = m.vector(rows) })
	if err != nil {
		return nil, err
	}
	return out, nil
}

func (m *Model) prefix(role Role) string {
	if role == Query {
		return m.header.Query
	}
	return m.header.Passage
}

// Tokens returns the numbers of a text's pieces between the model's marks of beginning
// and end, cut off at MostTokens.
func (m *Model) Tokens(s string) []int32 {
	most := m.header.MostTokens
	out := m.tokenizer.appendPieces([]int32{m.header.Special.Begin}, s, most-1)
	return append(out, m.header.Special.End)
}

// run puts texts through the layers and hands the last one's rows to visit, which may be
// called from several goroutines at a time.
func (m *Model) run(ctx context.Context, texts [][]int32, visit func(i int, rows []float32)) error {
	batches := batch(texts)
	var next atomic.Int64
	var workers sync.WaitGroup
	for range min(runtime.GOMAXPROCS(0), len(batches)) {
		workers.Go(func() {
			w := m.spaces.Get().(*workspace)
			defer m.spaces.Put(w)
			for i := next.Add(1) - 1; i < int64(len(batches)) && ctx.Err() == nil; i = next.Add(1) - 1 {
				w.run(ctx, texts, batches[i], visit)
			}
		})
	}
	workers.Wait()
	return ctx.Err()
}

// batch groups texts of like length into chunks, the longest first.
func batch(texts [][]int32) [][]int {
	order := make([]int, len(texts))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(len(texts[b]), len(texts[a])) })
	var out [][]int
	room := 0
	for _, i := range order {
		n := padded(len(texts[i]))
		if room < n {
			out, room = append(out, nil), max(chunk, n)
		}
		last := len(out) - 1
		out[last] = append(out[last], i)
		room -= n
	}
	return out
}

// vector makes one of a text's rows.
func (m *Model) vector(rows []float32) []float32 {
	out := mean(rows, m.Dimensions)
	if m.project == nil {
		return out
	}
	projected := slices.Clone(m.project.bias)
	for i, v := range out {
		for j := range projected {
			projected[j] += v * m.project.f32[j/panel*panel*m.project.in+i*panel+j%panel]
		}
	}
	return unit(projected)
}

// mean returns the mean of some rows, at length one.
func mean(rows []float32, width int) []float32 {
	out := make([]float32, width)
	for ; len(rows) > 0; rows = rows[width:] {
		for k, v := range rows[:width] {
			out[k] += v
		}
	}
	return unit(out)
}

// unit brings a vector to length one.
func unit(v []float32) []float32 {
	squares := 0.0
	for _, x := range v {
		squares += float64(x) * float64(x)
	}
	if squares > 0 {
		scale := float32(1 / math.Sqrt(squares))
		for k := range v {
			v[k] *= scale
		}
	}
	return v
}
