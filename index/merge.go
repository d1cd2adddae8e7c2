package index

import (
	"runtime"
)

// mergeSegments makes one segment of what lives in two. Postings are copied
// term by term with passages renumbered; no text is analysed again.
func mergeSegments(parts ...*segment) []byte {
	b := newBuilder()
	renumber := make([][]int, len(parts)) // -1 for passages that are gone
	for i, s := range parts {
		renumber[i] = b.adopt(s)
	}
	for i, s := range parts {
		for t := range s.termCount() {
			term := s.term(t)
			s.each(t, func(p posting) {
				if n := renumber[i][p.passage]; n >= 0 {
					b.posting(term, posting{n, p.heading, p.body})
				}
			})
		}
		runtime.KeepAlive(s)
	}
	return b.bytes()
}

// adopt takes over the live documents of a segment, without their postings.
func (b *builder) adopt(s *segment) []int {
	numbers := make([]int, s.stats.Passages)
	for _, d := range s.documents {
		gone := s.deleted[d.key]
		if !gone {
			b.document(d.key)
		}
		for p := d.first; p < d.first+d.count; p++ {
			numbers[p] = -1
			if gone {
				continue
			}
			heading, body := s.length(p)
			stored, err := s.storedBytes(p)
			if err != nil {
				stored = nil // shown as unreadable when it is found
			}
			numbers[p] = b.passage(heading, body, "", stored)
		}
	}
	// Languages are kept a segment, not a passage; deleted ones fade out when
	// their share does.
	delete(b.meta.Languages, "")
	for language, n := range s.languages {
		b.meta.Languages[language] += n
	}
	return numbers
}

// each calls visit for every posting of a term.
func (d *segmentData) each(term int, visit func(posting)) {
	r := varints{data: d.termPostings(term)}
	p := posting{passage: -1}
	for range d.termFrequency(term) {
		delta := r.next()
		p.passage += int(delta >> 1)
		p.heading = 0
		if delta&1 == 1 {
			p.heading = int(r.next())
		}
		p.body = int(r.next())
		if r.failed || p.passage >= d.stats.Passages {
			return
		}
		visit(p)
	}
}
