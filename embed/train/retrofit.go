package main

import (
	"bufio"
	"math"
	"os"
	"path/filepath"
	"slices"
	"strings"
)

// Weights of relations in retrofitting.
const (
	synonymWeight  = 1
	derivedWeight  = 1
	hypernymWeight = 0.5
	iterations     = 10
)

// retrofit draws words towards those that WordNet relates them to (Faruqui et
// al. 2015), the more the likelier they are in the text, since a boss is seldom a
// knob, and returns unit vectors.
func (c *corpus) retrofit(in []float32, dir string) ([]float32, error) {
	neighbours, err := c.neighbours(dir)
	if err != nil {
		return nil, err
	}
	normalise(in)
	now := slices.Clone(in)
	row := func(m []float32, i int32) []float32 { return m[int(i)*dimensions : int(i+1)*dimensions] }
	for i, near := range neighbours {
		for k, n := range near {
			near[k].weight *= max(0, dot(row(in, i), row(in, n.word)))
		}
	}
	for range iterations {
		for i := range c.words {
			near := neighbours[int32(i)]
			sum := float32(0)
			for _, n := range near {
				sum += n.weight
			}
			if sum == 0 {
				continue
			}
			own := row(now, int32(i))
			for d := range own {
				v := row(in, int32(i))[d]
				for _, n := range near {
					v += n.weight / sum * row(now, n.word)[d]
				}
				own[d] = v / 2
			}
		}
	}
	normalise(now)
	return now, nil
}

type neighbour struct {
	word   int32
	weight float32
}

// neighbours collects the related words of each word, in the order of WordNet.
func (c *corpus) neighbours(dir string) (map[int32][]neighbour, error) {
	members := map[string][]int32{}
	var synsets []*synset
	err := eachSynset(dir, func(s *synset) {
		synsets = append(synsets, s)
		for _, w := range s.words {
			if id, ok := c.number[w]; ok {
				members[s.id] = append(members[s.id], id)
			}
		}
	})
	if err != nil {
		return nil, err
	}
	out := map[int32][]neighbour{}
	link := func(from, to []int32, weight float32) {
		for _, a := range from {
			for _, b := range to {
				if a != b {
					out[a] = append(out[a], neighbour{b, weight})
				}
			}
		}
	}
	for _, s := range synsets {
		link(members[s.id], members[s.id], synonymWeight)
		for _, r := range s.related {
			switch r.kind {
			case "+":
				link(members[s.id], members[r.to], derivedWeight)
			case "@":
				link(members[s.id], members[r.to], hypernymWeight)
			}
		}
	}
	return out, nil
}

// A thesaurus is lines of words of like meaning, the first being the entry.
func (c *corpus) thesaurus(path string) ([][]int32, error) {
	f, err := os.Open(filepath.FromSlash(path))
	if err != nil {
		return nil, err
	}
	defer f.Close()
	var out [][]int32
	in := bufio.NewScanner(f)
	in.Buffer(nil, 1<<20)
	for in.Scan() {
		var entry []int32
		for i, w := range strings.Split(in.Text(), ",") {
			id, ok := c.number[strings.ToLower(strings.TrimSpace(w))]
			if !ok && i == 0 {
				break
			}
			if ok {
				entry = append(entry, id)
			}
		}
		if len(entry) > 2 {
			out = append(out, entry)
		}
	}
	return out, in.Err()
}

func normalise(m []float32) {
	for at := 0; at < len(m); at += dimensions {
		sum := 0.0
		for _, v := range m[at : at+dimensions] {
			sum += float64(v) * float64(v)
		}
		if sum == 0 {
			continue
		}
		scale := float32(1 / math.Sqrt(sum))
		for i := range dimensions {
			m[at+i] *= scale
		}
	}
}
