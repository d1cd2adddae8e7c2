package integrity

import (
	"bytes"
	"compress/zlib"
	"io"
	"regexp"
)

// An object is one of a file: what stands before its stream, and where that begins.
type object struct {
	dict  []byte
	start int // of the stream's bytes; 0 if there is none
}

// longestDict is how far the beginning of a stream is looked for.
const longestDict = 1 << 16

// objectAt reads the object of a number at a place; ok is false if it is not there.
func objectAt(data []byte, at, number_ int) (o object, ok bool) {
	if at < 0 || at >= len(data) {
		return o, false
	}
	window := data[at:min(len(data), at+longestDict)]
	m := header.FindSubmatchIndex(window)
	if m == nil || number(window[m[2]:m[3]]) != number_ {
		return o, false
	}
	body := window[m[1]:]
	end := bytes.Index(body, []byte("endobj"))
	if end < 0 {
		end = len(body)
	}
	start := streamIn(body[:end])
	if start < 0 {
		return object{dict: body[:end]}, true
	}
	o.dict = body[:start]
	start += len("stream")
	if start < len(body) && body[start] == '\r' {
		start++
	}
	if start < len(body) && body[start] == '\n' {
		start++
	}
	o.start = at + m[1] + start
	return o, true
}

// streamIn finds the word that begins a stream: after the end of a dictionary.
func streamIn(body []byte) int {
	for from := 0; ; {
		i := bytes.Index(body[from:], []byte("stream"))
		if i < 0 {
			return -1
		}
		if i += from; bytes.HasSuffix(bytes.TrimRight(body[:i], " \t\r\n\f\x00"), []byte(">>")) {
			return i
		}
		from = i + len("stream")
	}
}

var (
	length   = regexp.MustCompile(`/Length\s+(\d+)(?:\s+(\d+)\s+R)?`)
	deflated = regexp.MustCompile(`/Filter\s*\[?\s*/(?:FlateDecode|Fl)\b`)
	picture  = regexp.MustCompile(`/Subtype\s*/Image\b`)
)

// bytes returns a stream as it stands in the file.
func (o *object) bytes(data []byte, t *table) ([]byte, bool) {
	m := length.FindSubmatch(o.dict)
	if m == nil {
		return nil, false
	}
	n := number(m[1])
	if len(m[2]) > 0 { // the length is an object of its own
		at, known := t.offsets[n]
		if !known {
			return nil, false
		}
		l, ok := objectAt(data, at, n)
		digits := bytes.TrimSpace(l.dict)
		if !ok || len(digits) == 0 {
			return nil, false
		}
		n = number(digits)
	}
	if n < 0 || o.start+n > len(data) {
		return nil, false
	}
	after := bytes.TrimLeft(data[o.start+n:min(len(data), o.start+n+32)], " \t\r\n\f\x00")
	return data[o.start : o.start+n], bytes.HasPrefix(after, []byte("endstream"))
}

// sound tells whether an object's stream is as it was written, as far as that can be known.
func (o *object) sound(data []byte, t *table, left *int64) bool {
	if o.start == 0 {
		return true
	}
	packed, ok := o.bytes(data, t)
	if !ok {
		return false
	}
	if picture.Match(o.dict) || !deflated.Match(o.dict) || *left <= 0 || len(packed) == 0 {
		return true
	}
	unpack, err := zlib.NewReader(bytes.NewReader(packed))
	if err != nil {
		return false
	}
	n, err := io.Copy(io.Discard, io.LimitReader(unpack, *left))
	*left -= n
	return err == nil
}

var (
	widths    = regexp.MustCompile(`/W\s*\[\s*(\d+)\s+(\d+)\s+(\d+)\s*\]`)
	index     = regexp.MustCompile(`/Index\s*\[([\d\s]+)\]`)
	size      = regexp.MustCompile(`/Size\s+(\d+)`)
	predictor = regexp.MustCompile(`/Predictor\s+(\d+)`)
)

// stream reads a section that is a stream (7.5.8) and returns its dictionary.
func (t *table) stream(data []byte, at, base int) (trailer []byte, ok bool) {
	m := header.FindSubmatch(data[at:min(len(data), at+64)])
	if m == nil {
		return nil, false
	}
	o, ok := objectAt(data, at, number(m[1]))
	if !ok || o.start == 0 {
		return nil, false
	}
	w := widths.FindSubmatch(o.dict)
	packed, ok := o.bytes(data, t)
	if !ok || w == nil {
		return nil, false
	}
	rows, ok := unpacked(packed, o.dict)
	if !ok {
		return nil, false
	}
	a, b, c := number(w[1]), number(w[2]), number(w[3])
	width := a + b + c
	if width <= 0 || width > 32 {
		return nil, false
	}
	if p := predictor.FindSubmatch(o.dict); p != nil && number(p[1]) >= 10 {
		rows = unpredict(rows, width)
	}
	ranges := []int{0, 0}
	if s := size.FindSubmatch(o.dict); s != nil {
		ranges[1] = number(s[1])
	}
	if i := index.FindSubmatch(o.dict); i != nil {
		ranges = ranges[:0]
		for _, digits := range bytes.Fields(i[1]) {
			ranges = append(ranges, number(digits))
		}
	}
	for i := 0; i+1 < len(ranges); i += 2 {
		for n := range min(ranges[i+1], mostObjects) {
			if len(rows) < width {
				return o.dict, true
			}
			kind := 1
			if a > 0 {
				kind = bigEndian(rows[:a])
			}
			if kind == 1 {
				t.put(ranges[i]+n, bigEndian(rows[a:a+b])+base)
			}
			rows = rows[width:]
		}
	}
	return o.dict, true
}

func unpacked(packed, dict []byte) ([]byte, bool) {
	if !deflated.Match(dict) {
		return packed, true
	}
	unpack, err := zlib.NewReader(bytes.NewReader(packed))
	if err != nil {
		return nil, false
	}
	out, err := io.ReadAll(io.LimitReader(unpack, 32*mostObjects))
	return out, err == nil
}

func bigEndian(digits []byte) int {
	n := 0
	for _, d := range digits {
		n = n<<8 | int(d)
	}
	return n
}

// unpredict undoes the differences that PNG's filters leave between rows (7.4.4.4); the filters
// None, Sub and Up are those that cross-reference streams have.
func unpredict(rows []byte, width int) []byte {
	out := make([]byte, 0, len(rows))
	above := make([]byte, width)
	for len(rows) > width {
		filter, row := rows[0], bytes.Clone(rows[1:width+1])
		for i := range row {
			switch {
			case filter == 2:
				row[i] += above[i]
			case filter == 1 && i > 0:
				row[i] += row[i-1]
			}
		}
		out = append(out, row...)
		above, rows = row, rows[width+1:]
	}
	return out
}
