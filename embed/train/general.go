package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"os"
	"strings"

	"gonum.org/v1/gonum/mat"
)

// Settings of joining.
const (
	commonDirections = 2   // that all general vectors share, and that tell nothing
	generalLength    = 1.5 // of a general vector, beside the own one's 1
	ridge            = 1e-2
	generalWidth     = 100
	commonest        = 80_000 // words of general English that may be taken over
)

// join sets vectors of general English beside those of the own text, whose 19
// million tokens know the words of manuals well and those of a kitchen badly,
// and reduces both together to the directions in which words differ most
// (Coates and Bollegala 2018 on why that works). A word that one of the two
// lacks, such as all German ones the general, gets there what a linear map of its
// other vector says. Both are by rows, of zeros for what is lacking.
func join(own, general []float32, width int) []float32 {
	normalise(own)
	withoutCommon(general, width)
	fill(own, dimensions, general, width)
	fill(general, width, own, dimensions)
	n := len(own) / dimensions
	both := mat.NewDense(n, dimensions+width, nil)
	for i := range n {
		for d, v := range own[i*dimensions : (i+1)*dimensions] {
			both.Set(i, d, float64(v))
		}
		for d, v := range general[i*width : (i+1)*width] {
			both.Set(i, dimensions+d, generalLength*float64(v))
		}
	}
	var reduced mat.Dense
	reduced.Mul(both, principal(both, dimensions))
	out := make([]float32, n*dimensions)
	for i := range out {
		out[i] = float32(reduced.At(i/dimensions, i%dimensions))
	}
	return out
}

// principal returns the directions, as columns, in which the rows of m lie
// farthest from the origin.
func principal(m *mat.Dense, most int) *mat.Dense {
	_, width := m.Dims()
	square := mat.NewSymDense(width, nil)
	square.SymOuterK(1, m.T())
	var e mat.EigenSym
	e.Factorize(square, true)
	var all mat.Dense
	e.VectorsTo(&all) // in ascending order of their values
	out := mat.NewDense(width, most, nil)
	for d := range most {
		for i := range width {
			out.Set(i, d, all.At(i, width-1-d))
		}
	}
	return out
}

// withoutCommon takes the mean and the strongest directions out of the rows that
// are not zero and makes them unit length (Mu and Viswanath 2018).
func withoutCommon(m []float32, width int) {
	var known []int
	mean := make([]float64, width)
	for i := 0; i < len(m); i += width {
		if !zero(m[i : i+width]) {
			known = append(known, i)
			for d, v := range m[i : i+width] {
				mean[d] += float64(v)
			}
		}
	}
	rows := mat.NewDense(len(known), width, nil)
	for r, i := range known {
		for d, v := range m[i : i+width] {
			rows.Set(r, d, float64(v)-mean[d]/float64(len(known)))
		}
	}
	top := principal(rows, commonDirections)
	var along, common mat.Dense
	along.Mul(rows, top)
	common.Mul(&along, top.T())
	rows.Sub(rows, &common)
	for r, i := range known {
		length := mat.Norm(rows.RowView(r), 2)
		for d := range width {
			m[i+d] = float32(rows.At(r, d) / length)
		}
	}
}

// fill gives rows of zeros the direction that a ridge regression on the same rows
// of another matrix says, fitted on the rows that both have.
func fill(to []float32, width int, from []float32, fromWidth int) {
	row := func(m []float32, i, width int) []float32 { return m[i*width : (i+1)*width] }
	square, cross := mat.NewSymDense(fromWidth, nil), mat.NewDense(fromWidth, width, nil)
	for d := range fromWidth {
		square.SetSym(d, d, ridge)
	}
	n := len(to) / width
	for i := range n {
		if known := row(to, i, width); !zero(known) {
			x := mat.NewVecDense(fromWidth, widen(row(from, i, fromWidth)))
			square.SymRankOne(square, 1, x)
			cross.RankOne(cross, 1, x, mat.NewVecDense(width, widen(known)))
		}
	}
	var cholesky mat.Cholesky
	cholesky.Factorize(square)
	var turn mat.Dense
	if err := cholesky.SolveTo(&turn, cross); err != nil {
		panic(fmt.Sprintf("vectors lie in a plane: %v", err)) // ridge keeps them from it
	}
	for i := range n {
		lacking := row(to, i, width)
		if !zero(lacking) {
			continue
		}
		var said mat.VecDense
		said.MulVec(turn.T(), mat.NewVecDense(fromWidth, widen(row(from, i, fromWidth))))
		length := math.Max(mat.Norm(&said, 2), 1e-9)
		for d := range width {
			lacking[d] = float32(said.AtVec(d) / length)
		}
	}
}

func widen(row []float32) []float64 {
	out := make([]float64, len(row))
	for i, v := range row {
		out[i] = float64(v)
	}
	return out
}

func zero(row []float32) bool {
	for _, v := range row {
		if v != 0 {
			return false
		}
	}
	return true
}

// readGeneral reads JSON that has "words", the most frequent first, and "vectors"
// by word: it tells of the first and hands over the second, each if there is a
// function for it.
func readGeneral(path string, words func([]string), vector func(word string, v []float32)) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	defer f.Close()
	in := json.NewDecoder(f)
	if _, err := in.Token(); err != nil {
		return fmt.Errorf("%s: %w", path, err)
	}
	for in.More() {
		key, err := in.Token()
		if err != nil {
			return fmt.Errorf("%s: %w", path, err)
		}
		switch {
		case key == "words" && words != nil:
			var all []string
			err = in.Decode(&all)
			words(all)
		case key == "vectors" && vector == nil:
			return nil
		case key == "vectors":
			return readVectors(in, vector)
		default:
			var skipped json.RawMessage
			err = in.Decode(&skipped)
		}
		if err != nil {
			return fmt.Errorf("%s: %w", path, err)
		}
	}
	return fmt.Errorf("%s: it holds no vectors", path)
}

func readVectors(in *json.Decoder, vector func(word string, v []float32)) error {
	if _, err := in.Token(); err != nil {
		return err
	}
	for in.More() {
		word, err := in.Token()
		if err != nil {
			return err
		}
		var v []float32
		if err := in.Decode(&v); err != nil {
			return fmt.Errorf("the vector of %q: %w", word, err)
		}
		vector(word.(string), v)
	}
	return nil
}

// general reads the general vectors of the corpus's words, by rows. What follows
// a vector's numbers in the file is not ours.
func (c *corpus) general(path string) ([]float32, error) {
	rows := make([]float32, generalWidth*len(c.words))
	var short error
	err := readGeneral(path, nil, func(word string, v []float32) {
		if len(v) < generalWidth {
			short = fmt.Errorf("%s: the vector of %q has %d numbers and not %d", path, word, len(v), generalWidth)
		} else if id, ok := c.number[word]; ok {
			copy(rows[int(id)*generalWidth:int(id+1)*generalWidth], v)
		}
	})
	return rows, errors.Join(err, short)
}

// everyday returns the commonest words of general English that WordNet has.
func everyday(path, wordnet string) ([]string, error) {
	known := map[string]bool{}
	if err := eachSynset(wordnet, func(s *synset) {
		for _, w := range s.words {
			known[w] = true
		}
	}); err != nil {
		return nil, err
	}
	var out []string
	err := readGeneral(path, func(words []string) {
		for _, w := range words[:min(len(words), commonest)] {
			if known[w] && strings.Trim(w, "abcdefghijklmnopqrstuvwxyz") == "" {
				out = append(out, w)
			}
		}
	}, nil)
	return out, err
}
