// Package wordvec has vectors of single words, by which answers tell words of like
// meaning in sentences. German and French words lie in one space with the English ones.
package wordvec

import (
	"encoding/binary"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"unsafe"

	"jardinet/text"
)

// NumberWord stands for all numbers.
const NumberWord = "0"

// Word returns the name of a folded word in a model: words of other languages
// than English carry their language's code, since "chat" is not "chat".
func Word(word string, language text.Language) string {
	if language == text.English {
		return word
	}
	return string(language) + ":" + word
}

// LanguageOf returns the language of a word's name.
func LanguageOf(name string) text.Language {
	if code, _, ok := strings.Cut(name, ":"); ok {
		return text.Language(code)
	}
	return text.English
}

// A Model knows the vectors of its words.
type Model struct {
	Dimensions int
	Provenance []byte // JSON: what it was trained from

	words   []string // sorted
	numbers map[string]int32
	scales  []float32 // what a row's numbers are multiplied by
	lengths []float32 // of the rows before that
	rows    []int8
}

const magic = "JARDVEC\x02"

// Encode writes a model: words must be sorted; vectors has dimensions numbers a
// word. Each row is scaled so that its largest number becomes 127.
func Encode(words []string, vectors []float32, dimensions int, provenance []byte) []byte {
	out := []byte(magic)
	out = binary.LittleEndian.AppendUint32(out, uint32(len(words)))
	out = binary.LittleEndian.AppendUint32(out, uint32(dimensions))
	for _, part := range []string{string(provenance), strings.Join(words, "\n")} {
		out = binary.LittleEndian.AppendUint32(out, uint32(len(part)))
		out = append(out, part...)
	}
	rows := make([]byte, 0, len(vectors))
	for i := range words {
		row := vectors[i*dimensions : (i+1)*dimensions]
		most := float32(1e-9)
		for _, v := range row {
			most = max(most, v, -v)
		}
		out = binary.LittleEndian.AppendUint32(out, math.Float32bits(most/127))
		for _, v := range row {
			rows = append(rows, byte(int8(math.RoundToEven(float64(v/most*127)))))
		}
	}
	return append(out, rows...)
}

var errDamaged = errors.New("wordvec: the model is damaged")

// Decode reads what Encode wrote. The model goes on using data.
func Decode(data []byte) (*Model, error) {
	if len(data) < 16 || string(data[:8]) != magic {
		return nil, fmt.Errorf("wordvec: it is no model of this version")
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
	if len(data) != n*(4+dimensions) || n == 0 || dimensions == 0 {
		return nil, errDamaged
	}
	m := &Model{Dimensions: dimensions, Provenance: parts[0], words: strings.Split(string(parts[1]), "\n"), numbers: make(map[string]int32, n)}
	if len(m.words) != n || !slices.IsSorted(m.words) {
		return nil, errDamaged
	}
	m.rows = unsafe.Slice((*int8)(unsafe.Pointer(&data[4*n])), n*dimensions)
	for i, w := range m.words {
		m.numbers[w] = int32(i)
		m.scales = append(m.scales, math.Float32frombits(binary.LittleEndian.Uint32(data[4*i:])))
		row := m.row(i)
		m.lengths = append(m.lengths, float32(math.Sqrt(float64(Dot(row, row)))))
	}
	return m, nil
}

func (m *Model) row(i int) []int8 { return m.rows[i*m.Dimensions : (i+1)*m.Dimensions] }

// Words returns how many words the model has.
func (m *Model) Words() int { return len(m.words) }

// Dot returns the scalar product of two rows of equal length.
func Dot(a, b []int8) int32 {
	var s0, s1, s2, s3 int32
	b = b[:len(a)]
	i := 0
	for ; i+3 < len(a); i += 4 {
		s0 += int32(a[i]) * int32(b[i])
		s1 += int32(a[i+1]) * int32(b[i+1])
		s2 += int32(a[i+2]) * int32(b[i+2])
		s3 += int32(a[i+3]) * int32(b[i+3])
	}
	for ; i < len(a); i++ {
		s0 += int32(a[i]) * int32(b[i])
	}
	return s0 + s1 + s2 + s3
}

// Similarity returns the cosine of two words' vectors, by their numbers.
func (m *Model) Similarity(a, b int) float64 {
	lengths := float64(m.lengths[a]) * float64(m.lengths[b])
	if lengths == 0 {
		return 0
	}
	return float64(Dot(m.row(a), m.row(b))) / lengths
}

// Nearest returns the greatest similarity of a row of one word and a row of another, 0
// if none are alike.
func (m *Model) Nearest(a, b []int32) float64 {
	most := 0.0
	for _, i := range a {
		for _, j := range b {
			most = max(most, m.Similarity(int(i), int(j)))
		}
	}
	return most
}

// Weight returns how much a word tells.
func (m *Model) Weight(word int) float32 { return m.scales[word] * m.lengths[word] }

// Add adds a word's vector to a sum.
func (m *Model) Add(sum []float32, word int) {
	scale := m.scales[word]
	for i, v := range m.row(word) {
		sum[i] += scale * float32(v)
	}
}

// Find returns the number of a folded word, -1 if the model does not have it.
// What another language than English lacks may be an English word.
func (m *Model) Find(word string, language text.Language) int {
	if language != text.English {
		if i, ok := m.numbers[Word(word, language)]; ok {
			return int(i)
		}
	}
	if i, ok := m.numbers[word]; ok {
		return int(i)
	}
	return -1
}
