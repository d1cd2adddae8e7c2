package index

import (
	"encoding/binary"
	"encoding/json"
	"hash/crc32"
	"math"
	"slices"
	"strings"

	"jardinet/text"
)

// A posting says that a term stands in a passage, how often in which field.
type posting struct {
	passage       int
	heading, body int
}

// A builder gathers what goes into one segment, passage by passage.
type builder struct {
	meta      meta
	documents []document
	lengths   []byte
	offsets   []uint64 // of stored bytes
	stored    []byte
	lists     map[string]*list
}

// A list is the postings of a term, encoded.
type list struct {
	count int
	last  int // passage
	data  []byte
}

func newBuilder() *builder {
	return &builder{lists: map[string]*list{}, meta: meta{Languages: map[text.Language]int{}}}
}

// build makes a segment of documents.
func build(docs []Document) []byte {
	b := newBuilder()
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
			for term, c := range found {
				b.posting(term, posting{n, c.heading, c.body})
			}
		}
	}
	return b.bytes()
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

// posting adds a posting; those of a term come in the order of passages. The
// distance to the passage before is shifted by one bit, which is set when the
// term stands in the heading too.
func (b *builder) posting(term string, p posting) {
	l := b.lists[term]
	if l == nil {
		l = &list{last: -1}
		b.lists[strings.Clone(term)] = l
	}
	delta := uint64(p.passage-l.last) << 1
	if p.heading > 0 {
		l.data = binary.AppendUvarint(l.data, delta|1)
		l.data = binary.AppendUvarint(l.data, uint64(p.heading))
	} else {
		l.data = binary.AppendUvarint(l.data, delta)
	}
	l.data = binary.AppendUvarint(l.data, uint64(p.body))
	l.last = p.passage
	l.count++
}

// bytes returns the segment file.
func (b *builder) bytes() []byte {
	var docs []byte
	docs = binary.AppendUvarint(docs, uint64(len(b.documents)))
	for _, d := range b.documents {
		docs = binary.AppendUvarint(docs, uint64(len(d.key)))
		docs = append(docs, d.key...)
		docs = binary.AppendUvarint(docs, uint64(d.count))
	}
	var stored []byte
	base := uint64(8 * (len(b.offsets) + 1))
	for _, at := range append(b.offsets, uint64(len(b.stored))) {
		stored = binary.LittleEndian.AppendUint64(stored, base+at)
	}
	stored = append(stored, b.stored...)
	terms, postings := b.dictionary()
	info, _ := json.Marshal(b.meta) // of ints and strings: cannot fail
	return assemble([]section{
		{sectionMeta, info}, {sectionDocuments, docs}, {sectionLengths, b.lengths},
		{sectionTerms, terms}, {sectionPostings, postings}, {sectionStored, stored},
	})
}

// dictionary lays out terms and postings.
func (b *builder) dictionary() (terms, postings []byte) {
	sorted := make([]string, 0, len(b.lists))
	for term := range b.lists {
		sorted = append(sorted, term)
	}
	slices.Sort(sorted)
	terms = binary.LittleEndian.AppendUint64(terms, uint64(len(sorted)))
	var names []byte
	entry := func(count int) {
		terms = binary.LittleEndian.AppendUint32(terms, uint32(len(names)))
		terms = binary.LittleEndian.AppendUint32(terms, uint32(count))
		terms = binary.LittleEndian.AppendUint64(terms, uint64(len(postings)))
	}
	for _, term := range sorted {
		l := b.lists[term]
		entry(l.count)
		names = append(names, term...)
		postings = append(postings, l.data...)
	}
	entry(0)
	return append(terms, names...), postings
}

// A section is a part of a segment file.
type section struct {
	id   uint32
	data []byte
}

// assemble makes a file of sections.
func assemble(sections []section) []byte {
	size := headerSize + len(sections)*entrySize + 4
	for _, s := range sections {
		size += len(s.data) + 8
	}
	out := make([]byte, 0, size+8)
	out = append(out, segmentMagic...)
	out = binary.LittleEndian.AppendUint32(out, segmentVersion)
	out = binary.LittleEndian.AppendUint32(out, uint32(len(sections)))
	at := align(headerSize + len(sections)*entrySize + 4)
	for _, s := range sections {
		out = binary.LittleEndian.AppendUint32(out, s.id)
		out = binary.LittleEndian.AppendUint32(out, crc32.Checksum(s.data, castagnoli))
		out = binary.LittleEndian.AppendUint64(out, uint64(at))
		out = binary.LittleEndian.AppendUint64(out, uint64(len(s.data)))
		at = align(at + len(s.data))
	}
	out = binary.LittleEndian.AppendUint32(out, crc32.Checksum(out, castagnoli))
	for _, s := range sections {
		out = append(out, make([]byte, align(len(out))-len(out))...)
		out = append(out, s.data...)
	}
	return out
}

func align(n int) int { return (n + 7) &^ 7 }
