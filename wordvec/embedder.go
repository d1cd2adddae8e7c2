package wordvec

import "jardinet/text"

// An Embedder sums up passages and remembers the words that it has met. It
// serves one goroutine.
type Embedder struct {
	*Model
	known map[text.Language]map[string][]int32
}

// embedderMemory bounds how many words of a language an Embedder remembers.
const embedderMemory = 100_000

// NewEmbedder returns an embedder.
func (m *Model) NewEmbedder() *Embedder {
	return &Embedder{m, map[text.Language]map[string][]int32{}}
}

// Rows returns the numbers of a token's word or, if the model does not have it,
// of its parts; none for a word without any.
func (e *Embedder) Rows(t text.Token, language text.Language) []int32 {
	known := e.known[language]
	if known == nil || len(known) > embedderMemory {
		known = map[string][]int32{}
		e.known[language] = known
	}
	word := t.Word
	if t.Number {
		word = NumberWord
	}
	rows, ok := known[word]
	if !ok {
		if i := e.Find(word, language); i >= 0 {
			rows = []int32{int32(i)}
		} else {
			for _, i := range e.Parts(word, language) {
				rows = append(rows, int32(i))
			}
		}
		known[word] = rows
	}
	return rows
}

// Embed adds the vectors of a text's words to a sum.
func (e *Embedder) Embed(sum []float32, tokens []text.Token, language text.Language) {
	for _, t := range tokens {
		for _, row := range e.Rows(t, language) {
			e.Add(sum, int(row))
		}
	}
}
