// Package index keeps passages so that the best ones for a query are found
// fast, and so that no crash leaves it in a state that is neither old nor new.
//
// An index is a directory of immutable segments and one manifest that names
// those in force. Adding documents writes a new segment; removing one notes its
// key in the manifest; either takes effect when the manifest is replaced, which
// the file system does atomically. A search holds on to the snapshot it began
// with. Small segments are merged as they pile up, so that their number grows
// with the logarithm of the collection.
//
// Ranking is BM25F (Robertson, Zaragoza and Taylor, 2004) over two fields, the
// section path and the body. Statistics are summed over segments, so the way in
// which documents are spread over segments does not change a score.
//
// The format of segments is described in docs/index-format.md.
package index

import (
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"sync/atomic"

	"jardinet/text"
)

// A Document is what is added: its passages under a key that is unique.
type Document struct {
	Key      string
	Passages []Passage
}

// Encoded returns how many of the passages have a vector.
func (d *Document) Encoded() (n int) {
	for i := range d.Passages {
		if d.Passages[i].Vector != nil {
			n++
		}
	}
	return n
}

// A Passage is what is found.
type Passage struct {
	Heading  string // section path and title
	Body     string
	Language text.Language
	Stored   []byte    // handed back with a hit, as it is
	Vector   []float32 // in the index's space; nil if it has none
}

// An Index is open for searching and writing. Its methods may be called from
// many goroutines; writes happen one after another.
type Index struct {
	dir     string
	space   Space
	disk    *disk
	mark    string // in the names of the segments that are written here
	write   sync.Mutex
	current atomic.Pointer[snapshot]
}

// A snapshot is one state of the index.
type snapshot struct {
	generation uint64
	segments   []*segment
	keys       map[string]place
	passages   int // live ones
	stats      stats
	languages  []text.Language // the most frequent first
}

// A place is where a live document stands.
type place struct {
	segment  int
	document int
}

// A Manifest is the state of an index: the segments in force.
type Manifest struct {
	Format     int       `json:"format"`
	Space      Space     `json:"space"`
	Generation uint64    `json:"generation"`
	Segments   []Segment `json:"segments"`
}

// A Segment is an immutable file of an index, by its name.
type Segment struct {
	Name    string   `json:"name"`
	Deleted []string `json:"deleted,omitempty"` // keys of documents
}

const (
	manifestName   = "manifest.json"
	manifestFormat = 3
)

// ErrSpace is the error for an index whose vectors are of another model.
var ErrSpace = errors.New("the index was made with another embedding")

// Open opens the index in dir, making an empty one if there is none. Files
// left over from a crash are removed. The passages' vectors are of the given
// space, which is empty for an index without vectors; an index of another one is
// not opened.
func Open(dir string, space Space) (*Index, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("index: %w", err)
	}
	m, err := readManifest(dir)
	if err != nil {
		return nil, err
	}
	if len(m.Segments) > 0 && m.Space != space {
		return nil, fmt.Errorf("index: %s: %w: %w; make it anew", dir, ErrSpace, errSpace(m.Space, space))
	}
	x := &Index{dir: dir, space: space, disk: realDisk}
	s, err := x.snapshotOf(m)
	if err != nil {
		return nil, fmt.Errorf("index: %w; rebuild the index from the kept pages", err)
	}
	x.current.Store(s)
	x.sweep(m)
	return x, nil
}

// snapshotOf opens the segments of a manifest.
func (x *Index) snapshotOf(m Manifest) (*snapshot, error) {
	s := &snapshot{generation: m.Generation}
	for _, ms := range m.Segments {
		seg, err := openSegment(filepath.Join(x.dir, ms.Name))
		if err != nil {
			return nil, err
		}
		seg.deleted = keySet(ms.Deleted)
		s.segments = append(s.segments, seg)
	}
	s.finish()
	return s, nil
}

func keySet(keys []string) map[string]bool {
	out := make(map[string]bool, len(keys))
	for _, k := range keys {
		out[k] = true
	}
	return out
}

func readManifest(dir string) (Manifest, error) {
	m := Manifest{Format: manifestFormat}
	path := filepath.Join(dir, manifestName)
	data, err := os.ReadFile(path)
	if errors.Is(err, fs.ErrNotExist) {
		return m, nil
	}
	if err != nil {
		return m, fmt.Errorf("index: %w", err)
	}
	if err := json.Unmarshal(data, &m); err != nil {
		return m, fmt.Errorf("index: manifest %s is damaged: %w", path, err)
	}
	if m.Format != manifestFormat {
		return m, fmt.Errorf("index: manifest %s has format %d, this program reads %d", path, m.Format, manifestFormat)
	}
	return m, nil
}

// sweep removes segment files that the manifest does not name.
func (x *Index) sweep(m Manifest) {
	named := map[string]bool{}
	for _, s := range m.Segments {
		named[s.Name] = true
	}
	entries, err := os.ReadDir(x.dir)
	if err != nil {
		return
	}
	for _, e := range entries {
		if n := e.Name(); !named[n] && (strings.HasSuffix(n, segmentSuffix) || strings.HasSuffix(n, tempSuffix)) {
			os.Remove(filepath.Join(x.dir, n))
		}
	}
}

// finish derives what a snapshot knows from its segments.
func (s *snapshot) finish() {
	s.keys, s.passages, s.stats, s.languages = map[string]place{}, 0, stats{}, nil
	count := map[text.Language]int{}
	for i, seg := range s.segments {
		for d, doc := range seg.documents {
			if seg.deleted[doc.key] {
				continue
			}
			s.keys[doc.key] = place{i, d}
			s.passages += doc.count
		}
		for language, n := range seg.languages {
			count[language] += n
		}
		s.stats.add(seg.stats)
	}
	for language := range count {
		s.languages = append(s.languages, language)
	}
	slices.SortFunc(s.languages, func(a, b text.Language) int { return byCount(count[a], count[b], string(a), string(b)) })
}

// byCount puts what is more frequent first.
func byCount(a, b int, nameA, nameB string) int {
	return cmp.Or(cmp.Compare(b, a), cmp.Compare(nameA, nameB))
}

// Space returns the space of the index's vectors.
func (x *Index) Space() Space { return x.space }

// Has tells whether a document is in the index.
func (x *Index) Has(key string) bool {
	_, ok := x.current.Load().keys[key]
	return ok
}

// Document calls visit with what is stored with each passage of a document, in
// order, until that fails.
func (x *Index) Document(key string, visit func(ordinal int, stored []byte) error) error {
	s := x.current.Load()
	at, ok := s.keys[key]
	if !ok {
		return nil
	}
	seg := s.segments[at.segment]
	d := seg.documents[at.document]
	for i := range d.count {
		stored, err := seg.storedBytes(d.first + i)
		if err != nil {
			return err
		}
		if err := visit(i, stored); err != nil {
			return err
		}
	}
	return nil
}

// Stored returns what is stored with a passage of a document, nil if there is none.
func (x *Index) Stored(key string, ordinal int) ([]byte, error) {
	s := x.current.Load()
	at, ok := s.keys[key]
	if !ok {
		return nil, nil
	}
	seg := s.segments[at.segment]
	d := seg.documents[at.document]
	if ordinal < 0 || ordinal >= d.count {
		return nil, nil
	}
	return seg.storedBytes(d.first + ordinal)
}

// Keys returns the keys of all documents, sorted.
func (x *Index) Keys() []string {
	s := x.current.Load()
	out := make([]string, 0, len(s.keys))
	for k := range s.keys {
		out = append(out, k)
	}
	slices.Sort(out)
	return out
}

// Passages returns the number of passages that can be found.
func (x *Index) Passages() int { return x.current.Load().passages }

// Generation counts the writes, so that it tells whether anything changed.
func (x *Index) Generation() uint64 { return x.current.Load().generation }

// Languages returns the languages of the passages, the most frequent first.
func (x *Index) Languages() []text.Language { return x.current.Load().languages }
