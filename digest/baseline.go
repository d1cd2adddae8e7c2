package digest

import (
	"math/rand/v2"

	"jardinet/layout"
)

// FirstSentences returns the first sentence of each section, up to so many: what a summary has to be
// better than.
func FirstSentences(doc *layout.Document, most int) []Quote {
	var out []Quote
	for _, c := range candidates(lines(doc)) {
		if c.first && len(out) < most {
			out = append(out, *c.quote)
		}
	}
	return out
}

// RandomSentences returns so many sentences that stand by themselves, drawn at random.
func RandomSentences(doc *layout.Document, most int, seed uint64) []Quote {
	var all []Quote
	for _, q := range lines(doc) {
		if standsAlone(&q) {
			all = append(all, q)
		}
	}
	random := rand.New(rand.NewPCG(seed, 1))
	random.Shuffle(len(all), func(i, j int) { all[i], all[j] = all[j], all[i] })
	return all[:min(most, len(all))]
}
