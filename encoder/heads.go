package encoder

import (
	"context"
	"fmt"
)

// A Head is a map from a token's row to a few numbers, which a model was trained to say
// something by.
type Head struct {
	linear
	wanted int
}

// Head returns the head of a name that the model file holds.
func (m *Model) Head(name string) (*Head, error) {
	h, ok := m.heads[name]
	if !ok {
		return nil, fmt.Errorf("encoder: model %s has no head %q", m.Name, name)
	}
	return h, nil
}

// Apply returns what the head makes of a row.
func (h *Head) Apply(row []float32) []float32 {
	out := append(make([]float32, 0, h.out), h.bias...)
	for k, v := range row {
		for j := 0; j < h.out; j += panel {
			weights := h.f32[j*h.in+k*panel:][:panel]
			for i, w := range weights {
				out[j+i] += v * w
			}
		}
	}
	return out[:h.wanted]
}

// Pieces returns the numbers of a text's pieces without any marks, at most so many.
func (m *Model) Pieces(s string, most int) []int32 { return m.tokenizer.appendPieces(nil, s, most) }

// Marks returns the pieces that begin and end a text.
func (m *Model) Marks() (begin, end int32) { return m.header.Special.Begin, m.header.Special.End }

// MostTokens is how many tokens a text has at the most.
func (m *Model) MostTokens() int { return m.header.MostTokens }

// Rows puts texts, given as pieces with their marks, through the layers and hands the last
// one's rows to visit, a row of Dimensions numbers a piece. Visit may be called from
// several goroutines at a time and must not keep the rows.
func (m *Model) Rows(ctx context.Context, texts [][]int32, visit func(i int, rows []float32)) error {
	return m.run(ctx, texts, visit)
}
