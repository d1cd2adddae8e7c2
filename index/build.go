package index

import (
	"encoding/binary"
	"encoding/json"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"jardinet/text"
)

// A builder gathers what goes into one segment, passage by passage.
type builder struct {
	meta      meta
	documents []document
	lengths   []byte
	vectors   []byte
	codes     []byte
	offsets   []uint64 // of stored bytes
	stored    []byte
	lists     map[string]*list
}

func newBuilder(space Space) *builder {
	return &builder{lists: map[string]*list{}, meta: meta{Languages: map[text.Language]int{}, Space: space}}
}

// build gathers documents for a segment.
func build(space Space, docs []Document) (*builder, error) {
	b := newBuilder(space)
	stemmers := map[text.Language]*text.Stemmer{}
	type counts struct{ heading, body int }
	found := map[string]counts{}
	for _, d := range docs {
		b.document(d.Key)
		for _, p := range d.Passages {
			stemmer := stemmers[p.Language]
			if stemmer == nil {
				stemmer = text.NewStemmer(p.Language)
				stemmers[p.Language] = stemmer
			}
			clear(found)
			heading, body := text.Tokens(p.Heading), text.Tokens(p.Body)
			for _, t := range heading {
				stem := stemmer.Stem(t.Word)
				c := found[stem]
				c.heading++
				found[stem] = c
			}
			for _, t := range body {
				stem := stemmer.Stem(t.Word)
				c := found[stem]
				c.body++
				found[stem] = c
			}
			n := b.passage(len(heading), len(body), p.Language, p.Stored)
			if err := b.vector(p.Vector); err != nil {
				return nil, fmt.Errorf("document %s: %w", d.Key, err)
			}
			for term, c := range found {
				b.posting(term, posting{n, c.heading, c.body})
			}
		}
	}
	return b, nil
}

// vector adds the vector of the last passage; one without any points nowhere.
func (b *builder) vector(v []float32) error {
	if v == nil {
		v = make([]float32, b.meta.Space.Dimensions)
	}
	if len(v) != b.meta.Space.Dimensions {
		return fmt.Errorf("a vector has %d dimensions, the index has %d", len(v), b.meta.Space.Dimensions)
	}
	if len(v) > 0 {
		b.vectors, b.codes = quantise(b.vectors, v), appendCode(b.codes, v)
	}
	return nil
}

func (b *builder) document(key string) {
	b.documents = append(b.documents, document{key: key, first: b.meta.Stats.Passages})
}

// passage adds a passage to the last document and returns its number.
func (b *builder) passage(heading, body int, language text.Language, stored []byte) int {
	heading, body = min(heading, math.MaxUint16), min(body, math.MaxUint16)
	n := b.meta.Stats.Passages
	b.meta.Stats.add(stats{1, heading, body})
	b.meta.Languages[language]++
	b.documents[len(b.documents)-1].count++
	b.lengths = binary.LittleEndian.AppendUint16(b.lengths, uint16(heading))
	b.lengths = binary.LittleEndian.AppendUint16(b.lengths, uint16(body))
	b.offsets = append(b.offsets, uint64(len(b.stored)))
	b.stored = append(b.stored, stored...)
	return n
}

// posting adds a posting; those of a term come in the order of passages.
func (b *builder) posting(term string, p posting) {
	l := b.lists[term]
	if l == nil {
		l = &list{last: -1}
		b.lists[strings.Clone(term)] = l
	}
	l.add(p)
}

// write writes the segment file.
func (b *builder) write(w *fileWriter) error {
	info, err := json.Marshal(b.meta)
	if err != nil {
		return err
	}
	w.section(sectionMeta, info)
	w.section(sectionDocuments, encodeDocuments(b.documents))
	w.section(sectionLengths, b.lengths)
	w.section(sectionVectors, b.vectors)
	w.section(sectionCodes, b.codes)
	w.begin(sectionPostings)
	terms := &dictionary{}
	packer := &packer{average: b.meta.Stats.averages(), lengths: func(passage int) (heading, body int) { return lengthAt(b.lengths, passage) }}
	for _, term := range slices.Sorted(maps.Keys(b.lists)) {
		l := b.lists[term]
		data := packer.pack(l)
		terms.add(term, l.count, len(data))
		w.Write(data)
	}
	w.begin(sectionTerms)
	terms.writeTo(w)
	w.begin(sectionStored)
	base := uint64(8 * (len(b.offsets) + 1))
	var offsets []byte
	for _, at := range append(b.offsets, uint64(len(b.stored))) {
		offsets = binary.LittleEndian.AppendUint64(offsets, base+at)
	}
	w.Write(offsets)
	_, err = w.Write(b.stored)
	return err
}
