// Package integrity tells whether a PDF file is as it was written.
//
// A decoder mends what it can and says nothing: a page whose content stream has one flipped bit
// comes out with half of its words, and nobody knows that there were more. So the file is held
// to what it says of itself (ISO 32000-1, 7.5): its end is there; each entry of the
// cross-reference table leads to the object that it names; each stream is as long as it says;
// and each compressed stream unpacks to the checksum that ends it (RFC 1950). Pictures are left
// out, since no text is lost with them; so are streams of encrypted files.
package integrity

import (
	"bytes"
	"fmt"
	"regexp"
	"strconv"
)

// A Report says what of a file is not as it was written. The zero Report is a sound file's.
type Report struct {
	EndMissing bool // the file was cut off
	TableLost  bool // the cross-reference table cannot be read
	Entries    int  // of the table that lead to no such object
	Streams    int  // that do not unpack, or are not as long as they say
}

// Sound tells whether nothing is amiss.
func (r Report) Sound() bool { return r == Report{} }

// String says in words what is amiss.
func (r Report) String() string {
	switch {
	case r.Streams == 1:
		return "1 part of the file is damaged"
	case r.Streams > 1:
		return fmt.Sprintf("%d parts of the file are damaged", r.Streams)
	case r.EndMissing:
		return "the end of the file is missing"
	case r.TableLost:
		return "the file's table of its parts is damaged"
	case r.Entries > 0:
		return fmt.Sprintf("%d parts of the file are not where its table says", r.Entries)
	}
	return ""
}

// Bounds on what a hostile file can make us do.
const (
	mostSections = 64
	mostObjects  = 2_000_000
	mostUnpacked = 1 << 30 // bytes, of all streams together
)

// Of checks a whole file.
func Of(data []byte) Report {
	var r Report
	tail := data[max(0, len(data)-2048):]
	r.EndMissing = !bytes.Contains(tail, []byte("%%EOF"))
	t := readTable(data, tail)
	if t == nil {
		r.TableLost = true
		t = &table{offsets: sweep(data)}
	}
	left := int64(mostUnpacked)
	for number, at := range t.offsets {
		o, ok := objectAt(data, at, number)
		if !ok {
			r.Entries++
			continue
		}
		if !t.encrypted && !o.sound(data, t, &left) {
			r.Streams++
		}
	}
	return r
}

// A table is where objects are.
type table struct {
	offsets   map[int]int // by number
	encrypted bool
}

var (
	startxref = regexp.MustCompile(`startxref\s+(\d+)`)
	header    = regexp.MustCompile(`^\s*(\d+)\s+(\d+)\s+obj\b`)
	prev      = regexp.MustCompile(`/Prev\s+(\d+)`)
	hybrid    = regexp.MustCompile(`/XRefStm\s+(\d+)`)
)

// readTable reads all sections of the cross-reference table, the newest first; nil if one
// cannot be read.
func readTable(data, tail []byte) *table {
	all := startxref.FindAllSubmatch(tail, -1)
	if all == nil {
		return nil
	}
	t := &table{offsets: map[int]int{}}
	seen := map[int]bool{}
	// Offsets count from the header, before which there may be rubbish.
	base := max(0, bytes.Index(data[:min(1024, len(data))], []byte("%PDF-")))
	for next := []int{number(all[len(all)-1][1])}; len(next) > 0 && len(seen) < mostSections; {
		at := next[0] + base
		next = next[1:]
		if seen[at] {
			continue
		}
		seen[at] = true
		trailer, ok := t.section(data, at, base)
		if !ok {
			return nil
		}
		t.encrypted = t.encrypted || bytes.Contains(trailer, []byte("/Encrypt"))
		for _, link := range []*regexp.Regexp{hybrid, prev} {
			if m := link.FindSubmatch(trailer); m != nil {
				next = append(next, number(m[1]))
			}
		}
	}
	return t
}

func number(digits []byte) int {
	n, err := strconv.Atoi(string(digits))
	if err != nil {
		return -1
	}
	return n
}

// section reads one section, a table or a stream, and returns its trailer.
func (t *table) section(data []byte, at, base int) (trailer []byte, ok bool) {
	if at < 0 || at >= len(data) {
		return nil, false
	}
	rest := bytes.TrimLeft(data[at:min(len(data), at+64)], " \t\r\n\f\x00")
	if bytes.HasPrefix(rest, []byte("xref")) {
		return t.classic(data, at, base)
	}
	return t.stream(data, at, base)
}

var subsection = regexp.MustCompile(`^\s*(\d+)\s+(\d+)\s*`)

// classic reads a table of text lines.
func (t *table) classic(data []byte, at, base int) (trailer []byte, ok bool) {
	rest := data[at+bytes.Index(data[at:], []byte("xref"))+len("xref"):]
	for {
		m := subsection.FindSubmatch(rest[:min(len(rest), 64)])
		if m == nil {
			break
		}
		first, n := number(m[1]), number(m[2])
		rest = rest[len(m[0]):]
		if first < 0 || n < 0 || n > mostObjects || len(t.offsets) > mostObjects || len(rest) < 20*n-2 {
			return nil, false
		}
		for i := range n {
			line := rest[20*i : min(len(rest), 20*i+20)]
			if line[17] == 'n' {
				t.put(first+i, number(line[:10])+base)
			}
		}
		rest = rest[min(len(rest), 20*n):]
	}
	start := bytes.Index(rest[:min(len(rest), 256)], []byte("trailer"))
	if start < 0 {
		return nil, false
	}
	end := bytes.Index(rest[start:], []byte("startxref"))
	if end < 0 {
		end = min(len(rest)-start, 4096)
	}
	return rest[start : start+end], true
}

// put notes where an object is, unless a newer section says so already.
func (t *table) put(object, at int) {
	if _, known := t.offsets[object]; !known && object > 0 {
		t.offsets[object] = at
	}
}

var anywhere = regexp.MustCompile(`(?:^|[\r\n])(\d{1,9}) (\d{1,5}) obj\b`)

// sweep finds objects without a table.
func sweep(data []byte) map[int]int {
	out := map[int]int{}
	for _, m := range anywhere.FindAllSubmatchIndex(data, mostObjects) {
		out[number(data[m[2]:m[3]])] = m[2]
	}
	return out
}
