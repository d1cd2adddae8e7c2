package index

import (
	"encoding/binary"
	"encoding/json"
	"fmt"
	"hash/crc32"
	"runtime"
	"sort"
	"unsafe"

	"jardinet/text"
)

// Layout of a segment file; docs/index-format.md says more.
//
//	header    magic, version, number of sections
//	directory for each section its id, CRC-32C, offset and length
//	checksum  CRC-32C of all the above
//	sections  each starting at a multiple of 8
//
// A reader skips sections whose ids it does not know.
const (
	segmentMagic   = "JARDSEG\n"
	segmentVersion = 3
	headerSize     = 16
	entrySize      = 24
)

// Ids of sections.
const (
	sectionMeta      = 1 // JSON: languages and sums of lengths
	sectionDocuments = 2 // keys and how many passages each has
	sectionLengths   = 3 // two uint16 a passage: words in heading and body
	sectionTerms     = 4 // sorted terms with their places in the postings
	sectionPostings  = 5
	sectionStored    = 6
	sectionVectors   = 7 // a row a passage, see quantise
	sectionCodes     = 8 // the signs of the rows
	sectionCount     = 8
)

var castagnoli = crc32.MakeTable(crc32.Castagnoli)

// stats are the sums that ranking needs.
type stats struct {
	Passages int `json:"passages"`
	Heading  int `json:"heading"` // words
	Body     int `json:"body"`
}

func (s *stats) add(o stats) {
	s.Passages += o.Passages
	s.Heading += o.Heading
	s.Body += o.Body
}

type meta struct {
	Space     Space                 `json:"space"`
	Stats     stats                 `json:"stats"`
	Languages map[text.Language]int `json:"languages"`
}

// A segment is a segment file in use, with the documents deleted from it.
type segment struct {
	*segmentData
	deleted map[string]bool
}

// segmentData is a mapped file. The mapping ends when the garbage collector
// finds that no snapshot and no search has it any more.
type segmentData struct {
	path      string
	stats     stats
	space     Space
	languages map[text.Language]int
	documents []document
	lengths   []byte
	vectors   []byte
	codes     []byte
	terms     []byte
	postings  []byte
	stored    []byte
	storedAt  int64 // offset of stored in the file
}

// A document is a run of passages within a segment.
type document struct {
	key          string
	first, count int
}

// live returns the number of passages that are not deleted.
func (s *segment) live() int {
	n := 0
	for _, d := range s.documents {
		if !s.deleted[d.key] {
			n += d.count
		}
	}
	return n
}

// openSegment maps and checks a file.
func openSegment(path string) (*segment, error) {
	data, unmap, err := mapFile(path)
	if err != nil {
		return nil, fmt.Errorf("segment %s: %w", path, err)
	}
	d := &segmentData{path: path}
	if err := d.parse(data); err != nil {
		unmap()
		return nil, fmt.Errorf("segment %s: %w", path, err)
	}
	runtime.AddCleanup(d, func(unmap func()) { unmap() }, unmap)
	return &segment{segmentData: d}, nil
}

func (d *segmentData) parse(data []byte) error {
	entries, err := readDirectory(data)
	if err != nil {
		return err
	}
	if err := verify(d.path, entries); err != nil {
		return err
	}
	sections := map[uint32][]byte{}
	for _, e := range entries {
		sections[e.id] = data[e.offset : e.offset+e.length : e.offset+e.length]
		if e.id == sectionStored {
			d.storedAt = e.offset
		}
	}
	for _, id := range []uint32{sectionMeta, sectionDocuments, sectionLengths, sectionTerms, sectionPostings, sectionStored, sectionVectors, sectionCodes} {
		if sections[id] == nil {
			return fmt.Errorf("section %d is missing", id)
		}
	}
	var m meta
	if err := json.Unmarshal(sections[sectionMeta], &m); err != nil {
		return fmt.Errorf("meta section: %w", err)
	}
	d.stats, d.languages, d.space = m.Stats, m.Languages, m.Space
	d.vectors, d.codes = sections[sectionVectors], sections[sectionCodes]
	d.lengths, d.terms = sections[sectionLengths], sections[sectionTerms]
	d.postings, d.stored = sections[sectionPostings], sections[sectionStored]
	if err := d.readDocuments(sections[sectionDocuments]); err != nil {
		return err
	}
	n := d.stats.Passages
	if len(d.vectors) != rowSize(d.space.Dimensions)*n || len(d.codes) != codeSize(d.space.Dimensions)*n {
		return fmt.Errorf("its vectors do not fit its passages")
	}
	if len(d.lengths) != 4*n || len(d.stored) < 8*(n+1) || len(d.terms) < 8 || len(d.terms) < 8+16*(d.termCount()+1) {
		return fmt.Errorf("its sections do not fit each other")
	}
	return nil
}

func (d *segmentData) readDocuments(data []byte) error {
	r := varints{data: data}
	count, first := r.next(), 0
	for range count {
		key := string(r.bytes(int(r.next())))
		n := int(r.next())
		if r.failed || n > d.stats.Passages-first {
			return fmt.Errorf("its list of documents is damaged")
		}
		d.documents = append(d.documents, document{key, first, n})
		first += n
	}
	if first != d.stats.Passages {
		return fmt.Errorf("its list of documents is damaged")
	}
	return nil
}

// documentOf returns the index of the document that a passage belongs to.
func (d *segmentData) documentOf(passage int) int {
	return sort.Search(len(d.documents), func(i int) bool { return d.documents[i].first > passage }) - 1
}

func (d *segmentData) length(passage int) (heading, body int) {
	return lengthAt(d.lengths, passage)
}

func lengthAt(lengths []byte, passage int) (heading, body int) {
	at := lengths[4*passage:]
	return int(binary.LittleEndian.Uint16(at)), int(binary.LittleEndian.Uint16(at[2:]))
}

// storedOffset returns where in the section what is stored with a passage
// begins.
func (d *segmentData) storedOffset(passage int) uint64 {
	return min(binary.LittleEndian.Uint64(d.stored[8*passage:]), uint64(len(d.stored)))
}

// storedBytes returns a copy of what was stored with a passage.
func (d *segmentData) storedBytes(passage int) ([]byte, error) {
	from := binary.LittleEndian.Uint64(d.stored[8*passage:])
	to := binary.LittleEndian.Uint64(d.stored[8*passage+8:])
	if from > to || to > uint64(len(d.stored)) {
		return nil, fmt.Errorf("index: segment %s: passage %d is out of bounds", d.path, passage)
	}
	out := append([]byte(nil), d.stored[from:to]...)
	runtime.KeepAlive(d)
	return out, nil
}

// The terms section: a uint64 count, then for each term, and once more for the
// end, the offset of its bytes (uint32), its number of passages (uint32) and
// the offset of its postings (uint64); then the bytes.

func (d *segmentData) termCount() int { return int(binary.LittleEndian.Uint64(d.terms)) }

func (d *segmentData) term(i int) string {
	base := 8 + 16*(d.termCount()+1)
	from := base + int(binary.LittleEndian.Uint32(d.terms[8+16*i:]))
	to := base + int(binary.LittleEndian.Uint32(d.terms[8+16*(i+1):]))
	if from > to || to > len(d.terms) {
		return ""
	}
	raw := d.terms[from:to]
	return unsafe.String(unsafe.SliceData(raw), len(raw)) // valid while d is
}

func (d *segmentData) termFrequency(i int) int {
	return int(binary.LittleEndian.Uint32(d.terms[8+16*i+4:]))
}

func (d *segmentData) termPostings(i int) []byte {
	from := binary.LittleEndian.Uint64(d.terms[8+16*i+8:])
	to := binary.LittleEndian.Uint64(d.terms[8+16*(i+1)+8:])
	if from > to || to > uint64(len(d.postings)) {
		return nil
	}
	return d.postings[from:to]
}

// find returns the number of a term, -1 if the segment does not have it.
func (d *segmentData) find(term string) int {
	n := d.termCount()
	i := sort.Search(n, func(i int) bool { return d.term(i) >= term })
	if i == n || d.term(i) != term {
		return -1
	}
	return i
}

// varints reads unsigned varints, remembering if they ran out.
type varints struct {
	data   []byte
	failed bool
}

func (v *varints) next() uint64 {
	if len(v.data) > 0 && v.data[0] < 0x80 {
		x := v.data[0]
		v.data = v.data[1:]
		return uint64(x)
	}
	x, n := binary.Uvarint(v.data)
	if n <= 0 {
		v.failed, v.data = true, nil
		return 0
	}
	v.data = v.data[n:]
	return x
}

func (v *varints) bytes(n int) []byte {
	if n < 0 || n > len(v.data) {
		v.failed, v.data = true, nil
		return nil
	}
	out := v.data[:n]
	v.data = v.data[n:]
	return out
}
