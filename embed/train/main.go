// Command train makes word vectors from openly licensed text.
//
//	go run ./embed/train [-out words.bin]
//
// Vectors are trained by skip-gram with negative sampling (Mikolov et al. 2013),
// drawn together along WordNet's relations (Faruqui et al. 2015), made unit
// length and quantised to a byte a number. The same text gives the same file.
package main

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"flag"
	"fmt"
	"hash/fnv"
	"log"
	"math"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"jardinet/embed"
	"jardinet/text"
)

// Bounds on the vocabulary.
const (
	minimum  = 8
	maxWords = 46_000
)

func main() {
	log.SetFlags(0)
	out := flag.String("out", "bench/cache/words.bin", "where to write the vectors")
	cache := flag.String("cache", "bench/cache/text", "where to keep the text")
	flag.Parse()
	if err := run(context.Background(), *cache, *out); err != nil {
		log.Fatal("train: ", err)
	}
}

func run(ctx context.Context, cache, out string) error {
	start := time.Now()
	c, err := gather(ctx, cache)
	if err != nil {
		return err
	}
	log.Printf("%d tokens, %d words, %.0f s", len(c.ids), len(c.words), time.Since(start).Seconds())
	t := newTrainer(c.counts)
	told := 0.0
	t.train(c.ids, func(share float64) {
		if share-told >= 0.05 {
			told = share
			log.Printf("%3.0f %%, %.0f s", 100*share, time.Since(start).Seconds())
		}
	})
	vectors, err := c.retrofit(t.in, filepath.Join(cache, "wordnet-base"))
	if err != nil {
		return err
	}
	provenance, err := json.Marshal(map[string]any{"sources": sources, "tokens": len(c.ids), "text_sha256": c.sum, "dimensions": dimensions, "epochs": epochs})
	if err != nil {
		return err
	}
	data := embed.Encode(c.words, c.counts, vectors, dimensions, provenance)
	sum := sha256.Sum256(data)
	log.Printf("%s: %d bytes, SHA-256 %s, %.0f s", out, len(data), hex.EncodeToString(sum[:]), time.Since(start).Seconds())
	return os.WriteFile(out, data, 0o644)
}

// A corpus is the text as numbers of words; -1 ends a line.
type corpus struct {
	words  []string
	counts []int
	number map[string]int32
	ids    []int32
	sum    string
}

// gather reads all sources, counts words and numbers the text.
func gather(ctx context.Context, cache string) (*corpus, error) {
	if err := os.MkdirAll(cache, 0o755); err != nil {
		return nil, err
	}
	var lines [][]string
	hash := sha256.New()
	counts := map[string]int{}
	for _, s := range sources {
		dir, err := s.fetch(ctx, cache)
		if err != nil {
			return nil, err
		}
		seen := map[uint64]bool{}
		err = s.read(dir, func(raw string) {
			words := prose(raw)
			if words == nil {
				return
			}
			h := fnv.New64a()
			h.Write([]byte(strings.Join(words, " ")))
			if seen[h.Sum64()] {
				return
			}
			seen[h.Sum64()] = true
			for range s.times {
				lines = append(lines, words)
				for _, w := range words {
					counts[w]++
				}
			}
			fmt.Fprintln(hash, strings.Join(words, " "))
		})
		if err != nil {
			return nil, fmt.Errorf("%s: %w", s.Package, err)
		}
	}
	c := &corpus{number: map[string]int32{}, sum: hex.EncodeToString(hash.Sum(nil))}
	for w, n := range counts {
		if n >= minimum {
			c.words = append(c.words, w)
		}
	}
	slices.SortFunc(c.words, func(a, b string) int {
		if d := counts[b] - counts[a]; d != 0 {
			return d
		}
		return strings.Compare(a, b)
	})
	c.words = c.words[:min(len(c.words), maxWords)]
	slices.Sort(c.words)
	for i, w := range c.words {
		c.number[w] = int32(i)
		c.counts = append(c.counts, counts[w])
	}
	for _, line := range lines {
		for _, w := range line {
			if id, ok := c.number[w]; ok {
				c.ids = append(c.ids, id)
			}
		}
		c.ids = append(c.ids, -1)
	}
	return c, nil
}

// prose returns the words of a line of language, nil for other lines. All
// numbers are one word.
func prose(s string) []string {
	var out []string
	grammar := 0
	for _, t := range text.Tokens(s) {
		w := t.Word
		switch {
		case t.Number:
			w = embed.NumberWord
		case strings.Trim(w, "abcdefghijklmnopqrstuvwxyz-'") != "":
			continue
		case text.IsFunctionWord(w, text.English):
			grammar++
		}
		out = append(out, w)
	}
	if len(out) < 5 || grammar*12 < len(out) {
		return nil
	}
	return out
}

// Weights of WordNet's relations in retrofitting.
const (
	synonymWeight  = 1
	derivedWeight  = 1
	hypernymWeight = 0.5
	iterations     = 10
)

// retrofit draws words towards those that WordNet relates them to (Faruqui et
// al. 2015) and returns unit vectors.
func (c *corpus) retrofit(in []float32, dir string) ([]float32, error) {
	neighbours, err := c.neighbours(dir)
	if err != nil {
		return nil, err
	}
	normalise(in)
	now := slices.Clone(in)
	row := func(m []float32, i int32) []float32 { return m[int(i)*dimensions : int(i+1)*dimensions] }
	for range iterations {
		for i := range c.words {
			near := neighbours[int32(i)]
			if len(near) == 0 {
				continue
			}
			sum := float32(0)
			for _, n := range near {
				sum += n.weight
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
	for _, part := range []string{"noun", "verb", "adj", "adv"} {
		err := eachSynset(dir, part, func(s *synset) {
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
