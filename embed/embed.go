// Package embed turns words into vectors, so that words of like meaning are
// near each other though they share no letter.
//
// The vectors are trained by embed/train from openly licensed text and kept a
// byte a number. docs/embedding.md tells how, and how far this has come.
package embed

import (
	"encoding/binary"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
)

// NumberWord stands for all numbers.
const NumberWord = "0"

// A Model knows the vectors of its words.
type Model struct {
	Dimensions int
	Provenance []byte // JSON: what it was trained from

	words  []string // sorted
	counts []uint32
	scales []float32
	rows   []int8
	total  float64
}

const magic = "JARDVEC\x01"

// Encode writes a model: words must be sorted; vectors has dimensions numbers a
// word. Each row is scaled so that its largest number becomes 127.
func Encode(words []string, counts []int, vectors []float32, dimensions int, provenance []byte) []byte {
	out := []byte(magic)
	out = binary.LittleEndian.AppendUint32(out, uint32(len(words)))
	out = binary.LittleEndian.AppendUint32(out, uint32(dimensions))
	names := strings.Join(words, "\n")
	for _, part := range []string{string(provenance), names} {
		out = binary.LittleEndian.AppendUint32(out, uint32(len(part)))
		out = append(out, part...)
	}
	for _, n := range counts {
		out = binary.LittleEndian.AppendUint32(out, uint32(n))
	}
	for i := range words {
		row := vectors[i*dimensions : (i+1)*dimensions]
		most := float32(1e-9)
		for _, v := range row {
			most = max(most, v, -v)
		}
		out = binary.LittleEndian.AppendUint32(out, math.Float32bits(most/127))
		for _, v := range row {
			out = append(out, byte(int8(math.RoundToEven(float64(v/most*127)))))
		}
	}
	return out
}

var errDamaged = errors.New("embed: the model is damaged")

// Decode reads what Encode wrote.
func Decode(data []byte) (*Model, error) {
	if len(data) < 16 || string(data[:8]) != magic {
		return nil, fmt.Errorf("embed: it is no model of this version")
	}
	n, dimensions := int(binary.LittleEndian.Uint32(data[8:])), int(binary.LittleEndian.Uint32(data[12:]))
	data = data[16:]
	var parts [2][]byte
	for i := range parts {
		if len(data) < 4 {
			return nil, errDamaged
		}
		size := int(binary.LittleEndian.Uint32(data))
		if size > len(data)-4 {
			return nil, errDamaged
		}
		parts[i], data = data[4:4+size], data[4+size:]
	}
	if len(data) != n*(8+dimensions) {
		return nil, errDamaged
	}
	m := &Model{Dimensions: dimensions, Provenance: parts[0], words: strings.Split(string(parts[1]), "\n")}
	if len(m.words) != n || !slices.IsSorted(m.words) {
		return nil, errDamaged
	}
	for i := range n {
		m.counts = append(m.counts, binary.LittleEndian.Uint32(data[4*i:]))
		m.total += float64(m.counts[i])
	}
	data = data[4*n:]
	m.rows = make([]int8, 0, n*dimensions)
	for range n {
		m.scales = append(m.scales, math.Float32frombits(binary.LittleEndian.Uint32(data)))
		for _, b := range data[4 : 4+dimensions] {
			m.rows = append(m.rows, int8(b))
		}
		data = data[4+dimensions:]
	}
	return m, nil
}

// Find returns the number of a word, -1 if the model does not have it.
func (m *Model) Find(word string) int {
	if i, ok := slices.BinarySearch(m.words, word); ok {
		return i
	}
	return -1
}

// Words returns how many words the model has.
func (m *Model) Words() int { return len(m.words) }

// Similarity returns the cosine of two words' vectors, by their numbers.
func (m *Model) Similarity(a, b int) float64 {
	x, y := m.rows[a*m.Dimensions:(a+1)*m.Dimensions], m.rows[b*m.Dimensions:(b+1)*m.Dimensions]
	dot := int32(0)
	for i, v := range x {
		dot += int32(v) * int32(y[i])
	}
	return float64(dot) * float64(m.scales[a]) * float64(m.scales[b])
}

// weight is how much a word tells: a/(a+p) with its share p of the text (SIF,
// Arora et al. 2017).
func (m *Model) weight(word int) float64 {
	const a = 1e-3
	return a / (a + float64(m.counts[word])/m.total)
}

// Add adds a word's vector to a sum, weighted by how much the word tells.
func (m *Model) Add(sum []float32, word int) {
	weight := float32(m.weight(word)) * m.scales[word]
	for i, v := range m.rows[word*m.Dimensions : (word+1)*m.Dimensions] {
		sum[i] += weight * float32(v)
	}
}
