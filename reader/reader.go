// Package reader says whether a passage answers a question, with which of its sentences,
// in which words, and whether it affirms or denies.
//
// Question and passage go through a small transformer together, so that each word of the
// one sees each of the other (a cross-encoder; Nogueira and Cho 2019). It was trained on
// questions over many documents with the passages that our own retrieval brings for them
// (train/reader.py). Relevance is measured against a constant that stands for "no passage
// answers", so that it means the same for each question (Rajpurkar et al. 2018 for why
// that has to be learnt).
package reader

import (
	"context"
	_ "embed"
	"fmt"
	"math"
	"slices"
	"strings"
	"sync"

	"jardinet/encoder"
	"jardinet/passage"
)

// english.model is written by train/convert.py.
//
//go:embed english.model
var english []byte

// A Reader reads. It may be used by many goroutines.
type Reader struct {
	model               *encoder.Model
	inner, whole, token *encoder.Head
	colon               []int32

	turn   chan struct{} // held by who reads, as one question uses all cores
	memory memory
}

var (
	opened        sync.Once
	englishReader *Reader
)

// English returns the reader that comes with the program, which reads English. It is a
// function and no package variable, so that a program which never reads does not carry the
// file.
func English() *Reader {
	opened.Do(func() {
		r, err := Open(english)
		if err != nil {
			panic(err) // the program was built wrong
		}
		englishReader = r
	})
	return englishReader
}

// Open makes a reader of the bytes of a model file, which it keeps.
func Open(data []byte) (*Reader, error) {
	m, err := encoder.Open(data)
	if err != nil {
		return nil, fmt.Errorf("reader: %w", err)
	}
	r := &Reader{model: m, colon: m.Pieces(":", 1), turn: make(chan struct{}, 1)}
	for _, h := range []struct {
		name string
		head **encoder.Head
	}{{"inner", &r.inner}, {"whole", &r.whole}, {"token", &r.token}} {
		if *h.head, err = m.Head(h.name); err != nil {
			return nil, fmt.Errorf("reader: %w", err)
		}
	}
	return r, nil
}

// A Text is a passage under its heading.
type Text struct {
	Heading string
	Passage *passage.Passage
}

// Shapes of what is asked for.
const (
	Value    = iota // a number, a name, a few words
	Sentence        // something said
	List            // steps or a list
)

// Polarities of what is read.
const (
	Neither = iota
	Yes
	No
)

// A Reading is what the reader makes of a passage for a question.
type Reading struct {
	Relevance float64    // logit of the passage's answering against nothing's doing so
	Polarity  [3]float64 // probabilities
	Shape     [3]float64 // probabilities
	Evidence  []float64  // for each sentence, the probability that it is the one that proves; 0 for one beyond what is read

	words []word
}

// A word is a run of bytes of the passage without white space, with the logits of the
// answer's beginning and ending there.
type word struct {
	start, end, sentence int
	begins, ends         float64
}

// Anew returns the reader without what it remembers: its questions take as long as those that are
// asked for the first time.
func (r *Reader) Anew() *Reader {
	return &Reader{model: r.model, inner: r.inner, whole: r.whole, token: r.token, colon: r.colon, turn: r.turn}
}

// Read reads some passages for a question and returns their readings in the same order.
// Those who read at the same time get their turns in the order in which they came. What was
// read before is remembered. Read ends early with the context's error.
func (r *Reader) Read(ctx context.Context, question string, texts []Text) ([]Reading, error) {
	out := make([]Reading, len(texts))
	asked := r.model.Pieces(question, mostQuestion)
	var keys []key
	var places []int // of what is not remembered
	var all []packed
	var pieces [][]int32
	for i, t := range texts {
		k := keyOf(question, t)
		if known, ok := r.memory.get(k); ok {
			out[i] = known
			continue
		}
		p := r.pack(asked, t)
		keys, places, all, pieces = append(keys, k), append(places, i), append(all, p), append(pieces, p.pieces)
	}
	select {
	case r.turn <- struct{}{}:
		defer func() { <-r.turn }()
	case <-ctx.Done():
		return nil, ctx.Err()
	}
	err := r.model.Rows(ctx, pieces, func(n int, rows []float32) {
		i := places[n]
		out[i] = r.read(&all[n], len(texts[i].Passage.Sentences), rows)
	})
	if err != nil {
		return nil, err
	}
	for n, i := range places {
		r.memory.put(keys[n], out[i])
	}
	return out, nil
}

// How many pieces of a text are read, as in training.
const (
	mostQuestion = 48
	mostHeading  = 28
)

// Packed is a question with a passage, cut into pieces.
type packed struct {
	pieces []int32
	words  []word
	of     []int // the word of each piece, -1 for none
}

func (r *Reader) pack(question []int32, t Text) packed {
	most := r.model.MostTokens() - 1
	begin, end := r.model.Marks()
	p := packed{pieces: append([]int32{begin}, question...)}
	p.pieces = append(p.pieces, end)
	if heading := r.model.Pieces(t.Heading, math.MaxInt); len(heading) > 0 {
		p.pieces = append(p.pieces, heading[max(0, len(heading)-mostHeading):]...)
		p.pieces = append(p.pieces, r.colon...)
	}
	p.of = slices.Repeat([]int{-1}, len(p.pieces))
	for i, s := range t.Passage.Sentences {
		for at := s.Start; at < s.End && len(p.pieces) < most; {
			start, stop := nextWord(t.Passage.Text, at, s.End)
			at = stop
			pieces := r.model.Pieces(t.Passage.Text[start:stop], most-len(p.pieces))
			if len(pieces) == 0 {
				continue
			}
			p.pieces = append(p.pieces, pieces...)
			p.of = append(p.of, slices.Repeat([]int{len(p.words)}, len(pieces))...)
			p.words = append(p.words, word{start: start, end: stop, sentence: i})
		}
	}
	p.pieces, p.of = append(p.pieces, end), append(p.of, -1)
	return p
}

const space = " \t\n\r\u00a0"

// nextWord returns the next run of bytes without white space between two places.
func nextWord(s string, from, to int) (start, end int) {
	rest := strings.TrimLeft(s[from:to], space)
	start = to - len(rest)
	if n := strings.IndexAny(rest, space); n >= 0 {
		return start, start + n
	}
	return start, to
}

// Places among what the heads say.
const (
	relevance = 0
	polarity  = 1
	shape     = 4

	proof = 0
	start = 1
	end   = 2
)

// read makes a reading of the last layer's rows.
func (r *Reader) read(p *packed, sentences int, rows []float32) Reading {
	width := r.model.Dimensions
	hidden := r.inner.Apply(rows[:width])
	for i, v := range hidden {
		hidden[i] = float32(math.Tanh(float64(v)))
	}
	whole := r.whole.Apply(hidden)
	out := Reading{Relevance: float64(whole[relevance]), Evidence: make([]float64, sentences), words: p.words}
	softmax(out.Polarity[:], whole[polarity:shape])
	softmax(out.Shape[:], whole[shape:])
	sums, counts := make([]float64, sentences), make([]float64, sentences)
	for i, w := range p.of {
		if w < 0 {
			continue
		}
		said := r.token.Apply(rows[i*width : (i+1)*width])
		word := &p.words[w]
		sums[word.sentence] += float64(said[proof])
		counts[word.sentence]++
		if i == 0 || p.of[i-1] != w {
			word.begins = float64(said[start])
		}
		word.ends = float64(said[end])
	}
	normalise(out.Evidence, sums, counts)
	return out
}

// normalise makes probabilities of the means of some sums, none of what was not counted.
func normalise(out, sums, counts []float64) {
	most, total := math.Inf(-1), 0.0
	for i, n := range counts {
		if n > 0 {
			most = max(most, sums[i]/n)
		}
	}
	for i, n := range counts {
		if n > 0 {
			out[i] = math.Exp(sums[i]/n - most)
			total += out[i]
		}
	}
	for i := range out {
		out[i] /= max(total, math.SmallestNonzeroFloat64)
	}
}

func softmax(out []float64, logits []float32) {
	most, total := slices.Max(logits), 0.0
	for i, l := range logits[:len(out)] {
		out[i] = math.Exp(float64(l - most))
		total += out[i]
	}
	for i := range out {
		out[i] /= total
	}
}
