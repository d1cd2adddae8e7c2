package layout

import (
	"encoding/binary"
	"encoding/json"
	"errors"
	"math"

	"jardinet/pdf"
)

// Boxes are most of what is kept of a page, and reading hundreds of words a
// page as JSON objects takes longer than finding them. They are kept as
// varints, in tenths of a point, each relative to the box before.

// Words is a list of words that is compact when it is kept.
type Words []Word

// MarshalJSON writes the words as one base64 string.
func (words Words) MarshalJSON() ([]byte, error) {
	out := make([]byte, 0, 8*len(words))
	end := 0
	var last pdf.Rect
	for _, w := range words {
		out = binary.AppendVarint(out, int64(w.Start-end))
		out = binary.AppendUvarint(out, uint64(w.End-w.Start))
		out = AppendBox(out, w.Box, &last)
		end = w.End
	}
	return json.Marshal(out)
}

// UnmarshalJSON reads what MarshalJSON writes.
func (words *Words) UnmarshalJSON(data []byte) error {
	var raw []byte
	if err := json.Unmarshal(data, &raw); err != nil {
		return err
	}
	*words = nil
	end := 0
	var last pdf.Rect
	for len(raw) > 0 {
		start, n := binary.Varint(raw)
		length, m := binary.Uvarint(raw[max(n, 0):])
		if n <= 0 || m <= 0 {
			return errCompact
		}
		w := Word{Start: end + int(start)}
		w.End = w.Start + int(length)
		end = w.End
		var err error
		if raw, err = TakeBox(raw[n+m:], &w.Box, &last); err != nil {
			return err
		}
		*words = append(*words, w)
	}
	return nil
}

var errCompact = errors.New("layout: kept boxes are damaged")

// AppendBox appends a box relative to the last one, which it sets.
func AppendBox(to []byte, box pdf.Rect, last *pdf.Rect) []byte {
	tenths := func(a, b float32) int64 {
		return int64(math.Round(float64(a)*10)) - int64(math.Round(float64(b)*10))
	}
	to = binary.AppendVarint(to, tenths(box.X0, last.X1))
	to = binary.AppendVarint(to, tenths(box.X1, box.X0))
	to = binary.AppendVarint(to, tenths(box.Y0, last.Y0))
	to = binary.AppendVarint(to, tenths(box.Y1, box.Y0))
	*last = box
	return to
}

// TakeBox reads what AppendBox appended and returns the rest.
func TakeBox(from []byte, box, last *pdf.Rect) ([]byte, error) {
	var v [4]int64
	for i := range v {
		x, n := binary.Varint(from)
		if n <= 0 {
			return nil, errCompact
		}
		v[i], from = x, from[n:]
	}
	tenths := func(f float32) int64 { return int64(math.Round(float64(f) * 10)) }
	x0 := tenths(last.X1) + v[0]
	y0 := tenths(last.Y0) + v[2]
	*box = pdf.Rect{X0: float32(x0) / 10, X1: float32(x0+v[1]) / 10, Y0: float32(y0) / 10, Y1: float32(y0+v[3]) / 10}
	*last = *box
	return from, nil
}
