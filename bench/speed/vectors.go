package main

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"jardinet/embed"
	"jardinet/encoder"
	"jardinet/index"
)

// A mixture makes vectors like those of real passages for as many as are wanted, since
// encoding a million would take hours: each leans on two of some thousand real ones, with
// a little of its own.
type mixture struct{ real [][]float32 }

// realVectors is how many passages are encoded at the most.
const realVectors = 3000

// newMixture makes one for n passages.
func newMixture(n int) (*mixture, error) {
	m, count := &mixture{}, min(n, realVectors)
	path := filepath.Join(cache, fmt.Sprintf("vectors-%s-%d.json", strings.TrimPrefix(embed.Name(), "built-in "), count))
	if data, err := os.ReadFile(path); err == nil && json.Unmarshal(data, &m.real) == nil {
		return m, nil
	}
	var texts []embed.Text
	err := corpus(count, func(_ int, p made) error {
		texts = append(texts, embed.Text{Body: p.Heading + ": " + p.Body, Language: "en"})
		return nil
	})
	if err != nil {
		return nil, err
	}
	if m.real, err = embed.Texts(context.Background(), encoder.Passage, texts...); err != nil {
		return nil, err
	}
	data, err := json.Marshal(m.real)
	if err != nil {
		return nil, err
	}
	return m, os.WriteFile(path, data, 0o644)
}

// at returns the vector of a passage, the same every time.
func (m *mixture) at(i int) []float32 {
	random := rand.New(rand.NewPCG(uint64(i), 384))
	a, b, share := m.real[random.IntN(len(m.real))], m.real[random.IntN(len(m.real))], 0.3*random.Float32()
	out := make([]float32, len(a))
	squares := 0.0
	for k := range out {
		out[k] = a[k]*(1-share) + b[k]*share + float32(random.NormFloat64())*0.02
		squares += float64(out[k]) * float64(out[k])
	}
	for k := range out {
		out[k] /= float32(math.Sqrt(squares))
	}
	return out
}

// exactQueries is for how many questions the nearest are sought among all.
const exactQueries = 40

// vectorRecall returns which share of the ten passages that are really nearest to a
// question the index finds.
func vectorRecall(x *index.Index, n int, questions [][]float32) (float64, error) {
	m, err := newMixture(n)
	if err != nil {
		return 0, err
	}
	type scored struct {
		i      int
		cosine float32
	}
	best := make([][]scored, len(questions))
	for i := range n {
		v := m.at(i)
		for q, question := range questions {
			sum := float32(0)
			for k, x := range v {
				sum += x * question[k]
			}
			if b := best[q]; len(b) < 10 || sum > b[len(b)-1].cosine {
				b = append(b, scored{i, sum})
				slices.SortFunc(b, func(a, b scored) int { return cmp.Compare(b.cosine, a.cosine) })
				best[q] = b[:min(10, len(b))]
			}
		}
	}
	found := 0
	for q, question := range questions {
		hits, err := x.Search(context.Background(), &index.Query{Vector: question}, 10)
		if err != nil {
			return 0, err
		}
		for _, b := range best[q] {
			if slices.ContainsFunc(hits, func(h index.Hit) bool { return h.Key == keyOf(b.i) && h.Ordinal == b.i%1000 }) {
				found++
			}
		}
	}
	return float64(found) / float64(10*len(questions)), nil
}
