package index

import (
	"encoding/binary"
	"encoding/json"
	"io"
	"os"
	"runtime"
	"slices"

	"jardinet/text"
)

// A merger makes one segment of what lives in several, without having any of
// them in memory: the sections are written one after another, postings term by
// term with passages renumbered. No text is analysed again.
type merger struct {
	parts []*segment
	shift []int   // of passages, by part
	live  [][]int // new number of each passage, -1 for those that are gone; nil if none is
	next  []int   // term that comes next, by part
	// packer needs the lengths of all passages at hand; they are four bytes each.
	packer  packer
	lengths []byte
}

// mergeSegments writes a segment of what lives in the parts.
func mergeSegments(w *fileWriter, parts ...*segment) error {
	m := &merger{parts: parts, shift: make([]int, len(parts)), live: make([][]int, len(parts)), next: make([]int, len(parts))}
	total := meta{Languages: map[text.Language]int{}, Space: parts[0].space}
	var documents []document
	for i, s := range parts {
		m.shift[i] = total.Stats.Passages
		m.adopt(i, &total, &documents)
		// Languages are kept a segment, not a passage; deleted ones fade out when
		// their share does.
		for language, n := range s.languages {
			total.Languages[language] += n
		}
	}
	info, err := json.Marshal(total)
	if err != nil {
		return err
	}
	w.section(sectionMeta, info)
	w.section(sectionDocuments, encodeDocuments(documents))
	m.rows(w, sectionLengths, 4, func(s *segment) []byte { return s.lengths })
	m.runs(func(s *segment, first, end int) error {
		m.lengths = append(m.lengths, s.lengths[4*first:4*end]...)
		return nil
	})
	m.packer = packer{average: total.Stats.averages(), lengths: func(passage int) (heading, body int) { return lengthAt(m.lengths, passage) }}
	m.rows(w, sectionVectors, rowSize(total.Space.Dimensions), func(s *segment) []byte { return s.vectors })
	m.rows(w, sectionCodes, codeSize(total.Space.Dimensions), func(s *segment) []byte { return s.codes })
	w.begin(sectionPostings)
	terms := m.postings(w)
	w.begin(sectionTerms)
	terms.writeTo(w)
	w.begin(sectionStored)
	if err := m.stored(w, total.Stats.Passages); err != nil {
		return err
	}
	runtime.KeepAlive(parts)
	return nil
}

// adopt lists the live documents of a part and numbers their passages.
func (m *merger) adopt(i int, total *meta, documents *[]document) {
	s := m.parts[i]
	if len(s.deleted) > 0 {
		m.live[i] = make([]int, s.stats.Passages)
	}
	for _, d := range s.documents {
		gone := s.deleted[d.key]
		if !gone {
			*documents = append(*documents, document{d.key, total.Stats.Passages, d.count})
		}
		for p := d.first; p < d.first+d.count; p++ {
			if m.live[i] != nil {
				m.live[i][p] = total.Stats.Passages
			}
			if gone {
				m.live[i][p] = -1
				continue
			}
			heading, body := s.length(p)
			total.Stats.add(stats{1, heading, body})
		}
	}
}

// runs calls visit for each run of passages that live.
func (m *merger) runs(visit func(s *segment, first, end int) error) error {
	for _, s := range m.parts {
		first := 0
		for _, d := range s.documents {
			if !s.deleted[d.key] {
				continue
			}
			if err := visit(s, first, d.first); err != nil {
				return err
			}
			first = d.first + d.count
		}
		if err := visit(s, first, s.stats.Passages); err != nil {
			return err
		}
	}
	return nil
}

// rows writes a section that has so many bytes for each passage. The writer
// remembers if it fails.
func (m *merger) rows(w *fileWriter, section uint32, size int, of func(*segment) []byte) {
	w.begin(section)
	m.runs(func(s *segment, first, end int) error {
		_, err := w.Write(of(s)[size*first : size*end])
		return err
	})
}

// stored copies what is stored with the passages from file to file.
func (m *merger) stored(w *fileWriter, passages int) error {
	at := uint64(8 * (passages + 1))
	offsets := make([]byte, 0, 8*1024)
	err := m.runs(func(s *segment, first, end int) error {
		for p := first; p < end; p++ {
			offsets = binary.LittleEndian.AppendUint64(offsets, at)
			at += s.storedOffset(p+1) - s.storedOffset(p)
			if len(offsets) == cap(offsets) {
				if _, err := w.Write(offsets); err != nil {
					return err
				}
				offsets = offsets[:0]
			}
		}
		return nil
	})
	if err != nil {
		return err
	}
	if _, err := w.Write(binary.LittleEndian.AppendUint64(offsets, at)); err != nil {
		return err
	}
	return m.runs(func(s *segment, first, end int) error {
		f, err := os.Open(s.path)
		if err != nil {
			return err
		}
		defer f.Close()
		from, to := s.storedOffset(first), s.storedOffset(end)
		_, err = io.Copy(w, io.NewSectionReader(f, s.storedAt+int64(from), int64(to-from)))
		return err
	})
}

// postings writes the lists of all terms in their order.
func (m *merger) postings(w *fileWriter) *dictionary {
	out, l := &dictionary{}, &list{}
	for {
		least, any := "", false
		for i, s := range m.parts {
			if m.next[i] < s.termCount() {
				if term := s.term(m.next[i]); !any || term < least {
					least, any = term, true
				}
			}
		}
		if !any {
			return out
		}
		l.count, l.last, l.data = 0, -1, l.data[:0]
		for i, s := range m.parts {
			if m.next[i] < s.termCount() && s.term(m.next[i]) == least {
				m.take(l, i, m.next[i])
				m.next[i]++
			}
		}
		if l.count > 0 {
			data := m.packer.pack(l)
			out.add(least, l.count, len(data))
			w.Write(data)
		}
	}
}

// take adds a part's postings of a term to the list.
func (m *merger) take(to *list, i, term int) {
	m.parts[i].each(term, func(p posting) bool {
		n := p.passage + m.shift[i]
		if m.live[i] != nil {
			n = m.live[i][p.passage]
		}
		if n >= 0 {
			to.add(posting{n, p.heading, p.body})
		}
		return true
	})
}

// A dictionary is the terms section while it is made.
type dictionary struct {
	entries, names []byte
	count          int
	at             uint64 // in the postings
}

func (d *dictionary) add(term string, passages, bytes int) {
	d.entry(passages)
	d.names = append(d.names, term...)
	d.at += uint64(bytes)
	d.count++
}

func (d *dictionary) entry(frequency int) {
	d.entries = binary.LittleEndian.AppendUint32(d.entries, uint32(len(d.names)))
	d.entries = binary.LittleEndian.AppendUint32(d.entries, uint32(frequency))
	d.entries = binary.LittleEndian.AppendUint64(d.entries, d.at)
}

func (d *dictionary) writeTo(w *fileWriter) {
	count := d.count
	d.entry(0) // the end
	w.Write(binary.LittleEndian.AppendUint64(nil, uint64(count)))
	w.Write(d.entries)
	w.Write(d.names)
}

// encodeDocuments lays out the documents section.
func encodeDocuments(documents []document) []byte {
	out := binary.AppendUvarint(nil, uint64(len(documents)))
	for _, d := range documents {
		out = binary.AppendUvarint(out, uint64(len(d.key)))
		out = append(out, d.key...)
		out = binary.AppendUvarint(out, uint64(d.count))
	}
	return slices.Clip(out)
}
