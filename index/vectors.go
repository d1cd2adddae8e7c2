package index

import (
	"cmp"
	"context"
	"encoding/binary"
	"fmt"
	"math"
	"math/bits"
	"runtime"
	"slices"
	"sync"
)

// A Space says in what vectors an index keeps its passages. Vectors of two
// spaces cannot be compared, so an index has one.
type Space struct {
	Model      string `json:"model"` // names the model and its version
	Dimensions int    `json:"dimensions"`
}

// Vectors are kept twice: a byte a number with the reciprocal of the row's
// length, and a bit a number, its sign. Two vectors are the nearer the fewer of
// their signs differ, which a processor counts 64 at a time; so a search looks at
// the signs of all passages and at the bytes of the most promising only (binary
// codes: Charikar 2002). It needs no graph, no training, no tuning and next to no
// time when segments are merged.

// finest is up to how many numbers all rows of a segment are compared exactly.
const finest = 1 << 20

// Compared exactly are so many rows for each one wanted, and at least one row of so many:
// a question is so far from every passage that its nearest are not always among the very
// fewest differing signs.
const (
	oversample = 24
	sampled    = 32
)

// rowSize returns how many bytes a row takes.
func rowSize(dimensions int) int {
	if dimensions == 0 {
		return 0
	}
	return 4 + dimensions
}

func codeSize(dimensions int) int { return (dimensions + 63) / 64 * 8 }

// quantise appends a vector's row: its scale is left out, since only directions
// are compared.
func quantise(row []byte, vector []float32) []byte {
	most := float32(0)
	for _, v := range vector {
		most = max(most, v, -v)
	}
	at, sum := len(row), 0.0
	row = append(row, 0, 0, 0, 0)
	for _, v := range vector {
		q := int8(0)
		if most > 0 {
			q = int8(math.RoundToEven(float64(v / most * 127)))
		}
		sum += float64(q) * float64(q)
		row = append(row, byte(q))
	}
	if sum > 0 {
		binary.LittleEndian.PutUint32(row[at:], math.Float32bits(float32(1/math.Sqrt(sum))))
	}
	return row
}

// Narrow returns a vector's direction, a signed byte a number, as an index keeps it; Widen
// makes a vector of that again.
func Narrow(vector []float32) []int8 {
	row := quantise(nil, vector)
	out := make([]int8, len(vector))
	for i := range out {
		out[i] = int8(row[4+i])
	}
	return out
}

// Widen makes a vector of what Narrow returned.
func Widen(narrow []int8) []float32 {
	out := make([]float32, len(narrow))
	for i, n := range narrow {
		out[i] = float32(n)
	}
	return out
}

// appendCode appends the signs of a vector.
func appendCode(codes []byte, vector []float32) []byte {
	for i := 0; i < len(vector); i += 64 {
		word := uint64(0)
		for k, v := range vector[i:min(i+64, len(vector))] {
			if v > 0 {
				word |= 1 << k
			}
		}
		codes = binary.LittleEndian.AppendUint64(codes, word)
	}
	return codes
}

// cosine compares two rows.
func cosine(a, b []byte) float64 {
	lengths := math.Float32frombits(binary.LittleEndian.Uint32(a)) * math.Float32frombits(binary.LittleEndian.Uint32(b))
	return float64(dot(a[4:], b[4:len(a)])) * float64(lengths)
}

// plainDot is dot in Go alone.
func plainDot(a, b []byte) int32 {
	sum := int32(0)
	b = b[:len(a)]
	for i, x := range a {
		sum += int32(int8(x)) * int32(int8(b[i]))
	}
	return sum
}

// A target is a vector looked for.
type target struct {
	row  []byte
	code []uint64
}

// aim prepares a query's vector; nil if it has none or points nowhere.
func aim(vector []float32) *target {
	if !slices.ContainsFunc(vector, func(v float32) bool { return v != 0 }) {
		return nil
	}
	t := &target{row: quantise(nil, vector)}
	for code := appendCode(nil, vector); len(code) > 0; code = code[8:] {
		t.code = append(t.code, binary.LittleEndian.Uint64(code))
	}
	return t
}

// A near is a passage with its cosine, or another score.
type near struct {
	passage int
	cosine  float64
}

// compareNear orders as compareHits does: equal scores by key and place.
func (d *segmentData) compareNear(a, b near) int {
	if c := cmp.Compare(b.cosine, a.cosine); c != 0 || a.passage == b.passage {
		return c
	}
	x, y := d.documents[d.documentOf(a.passage)], d.documents[d.documentOf(b.passage)]
	return cmp.Or(cmp.Compare(x.key, y.key), cmp.Compare(a.passage, b.passage))
}

func (d *segmentData) row(passage int) []byte {
	size := rowSize(d.space.Dimensions)
	return d.vectors[passage*size : (passage+1)*size]
}

// hasVector tells whether a passage has one; the row of one without has no length.
func (d *segmentData) hasVector(passage int) bool {
	return d.space.Dimensions > 0 && binary.LittleEndian.Uint32(d.row(passage)) != 0
}

// cosineOf returns how near a passage is to a target.
func (d *segmentData) cosineOf(passage int, t *target) float64 {
	if t == nil || d.space.Dimensions != len(t.row)-4 {
		return 0
	}
	return cosine(t.row, d.row(passage))
}

// nearest returns the passages of allowed documents that are nearest to a
// target, at most top.
func (s *segment) nearest(ctx context.Context, t *target, allowed []bool, top int) []near {
	if t == nil || top < 1 || s.space.Dimensions != len(t.row)-4 {
		return nil
	}
	var found []near
	if s.stats.Passages*s.space.Dimensions <= finest {
		for i, d := range s.documents {
			for p := d.first; allowed[i] && p < d.first+d.count; p++ {
				found = append(found, near{passage: p})
			}
		}
	} else {
		found = s.promising(ctx, t, allowed, max(top*oversample, s.stats.Passages/sampled))
	}
	return s.closest(found, t, top)
}

// closest returns those of some passages that are nearest to a target, at most top; those
// without a vector are left out. It works on all cores.
func (s *segment) closest(found []near, t *target, top int) []near {
	parts := runtime.GOMAXPROCS(0)
	bests := make([][]near, parts)
	var wg sync.WaitGroup
	for w := range parts {
		wg.Go(func() {
			best := make([]near, 0, top+1)
			for i := w; i < len(found); i += parts {
				if !s.hasVector(found[i].passage) {
					continue
				}
				n := near{found[i].passage, s.cosineOf(found[i].passage, t)}
				if len(best) == top && s.compareNear(n, best[top-1]) >= 0 {
					continue
				}
				at, _ := slices.BinarySearchFunc(best, n, s.compareNear)
				best = slices.Insert(best, at, n)
				best = best[:min(top, len(best))]
			}
			bests[w] = best
		})
	}
	wg.Wait()
	all := slices.Concat(bests...)
	slices.SortFunc(all, s.compareNear)
	return all[:min(top, len(all))]
}

// distanceLists are used again, since they are as long as a segment.
var distanceLists = sync.Pool{New: func() any { return new([]uint16) }}

// promising returns about as many passages as wanted, those whose signs differ
// the least from the target's. It works on all cores.
func (s *segment) promising(ctx context.Context, t *target, allowed []bool, wanted int) []near {
	held := distanceLists.Get().(*[]uint16)
	defer distanceLists.Put(held)
	*held = slices.Grow((*held)[:0], s.stats.Passages)[:s.stats.Passages]
	distances := *held
	parts := runtime.GOMAXPROCS(0)
	histograms := make([][]int32, parts)
	var wg sync.WaitGroup
	for w := range parts {
		histograms[w] = make([]int32, 64*len(t.code)+1)
		wg.Go(func() {
			for i := w; i < len(s.documents) && ctx.Err() == nil; i += parts {
				if allowed[i] {
					s.differ(t, s.documents[i], distances, histograms[w])
				}
			}
		})
	}
	wg.Wait()
	limit, sum := 0, 0
	for ; limit < len(histograms[0]); limit++ {
		for _, h := range histograms {
			sum += int(h[limit])
		}
		if sum >= wanted {
			break
		}
	}
	found := make([]near, 0, wanted)
	for i, d := range s.documents {
		for p := d.first; allowed[i] && p < d.first+d.count; p++ {
			if int(distances[p]) <= limit {
				found = append(found, near{passage: p})
			}
		}
	}
	return found
}

// differ counts the signs in which a document's passages differ from a target.
func (s *segment) differ(t *target, d document, distances []uint16, histogram []int32) {
	size := 8 * len(t.code)
	codes := s.codes[d.first*size : (d.first+d.count)*size]
	distances = distances[d.first : d.first+d.count]
	switch len(t.code) {
	case 6: // the encoders that come with the program
		q := [6]uint64(t.code)
		for i := range distances {
			c := codes[48*i : 48*i+48 : 48*i+48]
			n := bits.OnesCount64(q[0]^binary.LittleEndian.Uint64(c)) + bits.OnesCount64(q[1]^binary.LittleEndian.Uint64(c[8:])) +
				bits.OnesCount64(q[2]^binary.LittleEndian.Uint64(c[16:])) + bits.OnesCount64(q[3]^binary.LittleEndian.Uint64(c[24:])) +
				bits.OnesCount64(q[4]^binary.LittleEndian.Uint64(c[32:])) + bits.OnesCount64(q[5]^binary.LittleEndian.Uint64(c[40:]))
			distances[i] = uint16(n)
		}
	default:
		for i := range distances {
			n := 0
			for k, word := range t.code {
				n += bits.OnesCount64(word ^ binary.LittleEndian.Uint64(codes[size*i+8*k:]))
			}
			distances[i] = uint16(n)
		}
	}
	for _, n := range distances {
		histogram[n]++
	}
}

// errSpace tells of vectors that do not belong into an index.
func errSpace(have, want Space) error {
	return fmt.Errorf("its vectors are of %s with %d dimensions, not of %s with %d", have.Model, have.Dimensions, want.Model, want.Dimensions)
}
