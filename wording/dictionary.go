package wording

import (
	"sync"
	"sync/atomic"

	"jardinet/text"
)

// A dictionary remembers what does not depend on the question: stems of words
// and their rows in the model. It serves many goroutines.
type dictionary struct {
	entries sync.Map // of entry, by language and word
	count   atomic.Int64
}

// An entry is a word; its stem is empty if it only carries grammar, its form, by
// which phrases are told, never.
type entry struct {
	form, stem string
	rows       []int32
}

// dictionaryMemory bounds it; real vocabularies are smaller.
const dictionaryMemory = 300_000

type languageAndWord struct {
	language text.Language
	word     string
}

// look returns a word's entry; what is not known yet the reader works out.
func (d *dictionary) look(t text.Token, language text.Language, r *reader) *entry {
	key := languageAndWord{language, t.Word}
	if t.Number {
		key.word = "0" + key.word // a number's rows are those of all numbers
	}
	if e, ok := d.entries.Load(key); ok {
		return e.(*entry)
	}
	e := &entry{form: r.stemmers[language].Stem(t.Word), rows: r.embedder.Rows(t, language)}
	if !text.IsFunctionWord(t.Word, language) {
		e.stem = e.form
	}
	if d.count.Add(1) > dictionaryMemory {
		d.entries.Clear()
		d.count.Store(0)
	}
	d.entries.Store(key, e)
	return e
}
