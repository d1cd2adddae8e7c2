package main

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"hash/fnv"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"jardinet/embed"
	"jardinet/text"
)

// Bounds on the vocabulary.
const minimum = 8 // occurrences

var mostWords = map[text.Language]int{"en": 40_000, "de": 6_500, "fr": 6_500}

// A corpus is the text as numbers of words.
type corpus struct {
	words     []string // sorted
	counts    []int
	number    map[string]int32
	documents []document
	sum       string
}

// A document is a run of blocks of one source.
type document struct {
	source *source
	blocks []line
}

// A line is a block as numbers of words.
type line struct {
	heading bool
	prose   bool // enough grammar to learn from
	id      string
	words   []string
	ids     []int32
}

// gather reads all sources, counts words and numbers the text.
func gather(ctx context.Context, cache string) (*corpus, error) {
	if err := os.MkdirAll(cache, 0o755); err != nil {
		return nil, err
	}
	c := &corpus{number: map[string]int32{}}
	hash := sha256.New()
	for i := range sources {
		s := &sources[i]
		dir, err := s.fetch(ctx, cache)
		if err != nil {
			return nil, err
		}
		if s.read == nil {
			continue
		}
		seen := map[uint64]bool{}
		now := document{source: s}
		err = s.read(dir, func(b block) {
			if b.text == "" {
				if len(now.blocks) > 0 {
					c.documents = append(c.documents, now)
				}
				now = document{source: s}
				return
			}
			l := tokens(b, s.Language)
			if h := sumOf(l.words); len(l.words) > 0 && (l.heading || !seen[h]) {
				seen[h] = true
				now.blocks = append(now.blocks, l)
				fmt.Fprintln(hash, strings.Join(l.words, " "))
			}
		})
		if err != nil {
			return nil, fmt.Errorf("%s: %w", s.Package, err)
		}
	}
	c.sum = hex.EncodeToString(hash.Sum(nil))
	more, err := everyday(generalPath(cache), filepath.Join(cache, "wordnet-base"))
	if err != nil {
		return nil, err
	}
	c.numberWords(more)
	return c, nil
}

func sumOf(words []string) uint64 {
	h := fnv.New64a()
	for _, w := range words {
		h.Write([]byte(w))
		h.Write([]byte{' '})
	}
	return h.Sum64()
}

// numberWords chooses the vocabulary, most frequent words first and then more that
// it is told of, and numbers the text.
func (c *corpus) numberWords(more []string) {
	counts := map[string]int{}
	for _, d := range c.documents {
		for _, l := range d.blocks {
			if l.prose {
				for _, w := range l.words {
					counts[w] += d.source.times
				}
			}
		}
	}
	var frequent []string
	for w, n := range counts {
		if n >= minimum {
			frequent = append(frequent, w)
		}
	}
	slices.SortFunc(frequent, func(a, b string) int {
		if d := counts[b] - counts[a]; d != 0 {
			return d
		}
		return strings.Compare(a, b)
	})
	taken, chosen := map[text.Language]int{}, map[string]bool{}
	for _, w := range frequent {
		if language := embed.LanguageOf(w); taken[language] < mostWords[language] {
			taken[language]++
			chosen[w] = true
			c.words = append(c.words, w)
		}
	}
	for _, w := range more {
		if !chosen[w] {
			c.words = append(c.words, w)
		}
	}
	slices.Sort(c.words)
	for i, w := range c.words {
		c.number[w] = int32(i)
		c.counts = append(c.counts, counts[w])
	}
	for _, d := range c.documents {
		for i := range d.blocks {
			l := &d.blocks[i]
			for _, w := range l.words {
				if id, ok := c.number[w]; ok {
					l.ids = append(l.ids, id)
				}
			}
			l.words = nil
		}
	}
}

// lines returns the prose one line after the other, each ended by -1.
func (c *corpus) lines() []int32 {
	var out []int32
	for _, d := range c.documents {
		for _, l := range d.blocks {
			if l.prose {
				for range d.source.times {
					out = append(append(out, l.ids...), -1)
				}
			}
		}
	}
	return out
}

// tokens returns the words of a block. All numbers are one word; those of
// other languages than English begin with the language's code.
func tokens(b block, language text.Language) line {
	out := line{heading: b.heading, id: b.id}
	grammar := 0
	for _, t := range text.Tokens(b.text) {
		w := t.Word
		switch {
		case t.Number:
			w = embed.NumberWord
		case strings.Trim(w, "abcdefghijklmnopqrstuvwxyz-'") != "":
			continue
		default:
			if text.IsFunctionWord(w, language) {
				grammar++
			}
			w = embed.Word(w, language)
		}
		out.words = append(out.words, w)
	}
	out.prose = len(out.words) >= 5 && grammar*12 >= len(out.words)
	return out
}
