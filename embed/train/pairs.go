package main

import (
	"math/rand/v2"
	"slices"
	"strings"

	"jardinet/text"
)

// A pair is two texts that mean much the same, as numbers of words.
type pair struct {
	a, b []int32
}

// Lengths of texts in pairs, in words.
const (
	shortest = 3
	sentence = 16
	section  = 80
	likeRun  = 8 // pairs of one document that stay together, as hard negatives for each other
)

// pairs gathers what the text gives for free: a heading and its section, a
// passage and the text around it, a word and its gloss, a thesaurus entry and
// its words, a paragraph and its translation.
func (c *corpus) pairs(thesaurus [][]int32) []pair {
	random := rand.New(rand.NewPCG(seed, 2))
	var out []pair
	for _, d := range c.documents {
		if d.source.times > 0 {
			out = append(out, documentPairs(d, random)...)
		}
	}
	for range 2 {
		for _, entry := range thesaurus {
			out = append(out, entryPair(entry, random))
		}
	}
	out = append(out, c.translations()...)
	return shuffleRuns(out, random)
}

func documentPairs(d document, random *rand.Rand) []pair {
	var out []pair
	for i, l := range d.blocks {
		around := following(d.blocks[i+1:], section)
		switch {
		case l.heading && len(l.ids) > 0 && len(around) >= shortest:
			if d.source.Package == "wordnet-base" || random.IntN(2) == 0 {
				around = without(around, l.ids)
			}
			out = append(out, pair{l.ids[:min(len(l.ids), sentence)], around})
		case l.prose && len(l.ids) >= 2*shortest:
			at := 0
			if len(l.ids) > sentence {
				at = random.IntN(len(l.ids) - sentence + 1)
			}
			asked := l.ids[at:min(len(l.ids), at+sentence)]
			rest := slices.Concat(l.ids[:at], l.ids[at+len(asked):], around)
			rest = rest[:min(len(rest), section)]
			out = append(out, pair{dropShared(asked, rest, random), rest})
		}
	}
	return slices.DeleteFunc(out, func(p pair) bool { return len(p.a) == 0 || len(p.b) < shortest })
}

// following returns the words of blocks up to the next heading.
func following(blocks []line, most int) []int32 {
	var out []int32
	for _, l := range blocks {
		if l.heading || len(out) >= most {
			break
		}
		out = append(out, l.ids...)
	}
	return out[:min(len(out), most)]
}

func without(words, gone []int32) []int32 {
	return slices.DeleteFunc(slices.Clone(words), func(w int32) bool { return slices.Contains(gone, w) })
}

// dropShared leaves out half of the words that both texts have, so that it is
// learnt to do without.
func dropShared(asked, rest []int32, random *rand.Rand) []int32 {
	return slices.DeleteFunc(slices.Clone(asked), func(w int32) bool {
		return slices.Contains(rest, w) && random.IntN(2) == 0
	})
}

// entryPair sets a word and perhaps a few of its companions against others.
func entryPair(entry []int32, random *rand.Rand) pair {
	rest := slices.Clone(entry[1:])
	random.Shuffle(len(rest), func(i, j int) { rest[i], rest[j] = rest[j], rest[i] })
	few := min(random.IntN(2), len(rest)-1)
	return pair{append([]int32{entry[0]}, rest[:few]...), rest[few:min(len(rest), few+8)]}
}

// translations pairs the paragraphs that have one id in several languages.
func (c *corpus) translations() []pair {
	type key struct{ name, id string }
	texts := map[key]map[text.Language][]int32{}
	var order []key
	for _, d := range c.documents {
		name, _, _ := strings.Cut(d.source.Package, "-help")
		for _, l := range d.blocks {
			if l.id == "" || len(l.ids) == 0 || name == d.source.Package {
				continue
			}
			k := key{name, l.id}
			if texts[k] == nil {
				texts[k] = map[text.Language][]int32{}
				order = append(order, k)
			}
			if texts[k][d.source.Language] == nil {
				texts[k][d.source.Language] = l.ids[:min(len(l.ids), section)]
			}
		}
	}
	var out []pair
	for _, k := range order {
		t := texts[k]
		for _, p := range []pair{{t["de"], t["en"]}, {t["fr"], t["en"]}, {t["de"], t["fr"]}} {
			if len(p.a) > 0 && len(p.b) > 0 {
				out = append(out, p)
			}
		}
	}
	return out
}

// shuffleRuns shuffles runs of pairs.
func shuffleRuns(pairs []pair, random *rand.Rand) []pair {
	runs := slices.Collect(slices.Chunk(pairs, likeRun))
	random.Shuffle(len(runs), func(i, j int) { runs[i], runs[j] = runs[j], runs[i] })
	return slices.Concat(runs...)
}
