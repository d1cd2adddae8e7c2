package shard

import (
	"encoding/binary"
	"encoding/json"
	"errors"
	"math"

	"jardinet/index"
)

// A reply is written as JSON, but for what there is much of: the passages that were found, and what is
// stored with them, stand behind it in binary.

// wireFormat begins each reply.
const wireFormat = 1

// encode writes a reply down.
func (r *reply) encode() []byte {
	head, err := json.Marshal(r)
	if err != nil {
		r = &reply{Problem: err.Error()}
		head, _ = json.Marshal(r) // of one text
	}
	out := append([]byte{wireFormat}, binary.AppendUvarint(nil, uint64(len(head)))...)
	out = append(out, head...)
	for k, hits := range r.Found {
		out = binary.AppendUvarint(out, uint64(len(hits)))
		for i := range hits {
			out = appendHit(out, &hits[i], r.Shards[k][i])
		}
	}
	out = binary.AppendUvarint(out, uint64(len(r.Stored)))
	for _, stored := range r.Stored {
		if stored == nil {
			out = binary.AppendUvarint(out, 0)
			continue
		}
		out = appendBytes(binary.AppendUvarint(out, 1), stored)
	}
	return out
}

func appendBytes(out, b []byte) []byte {
	return append(binary.AppendUvarint(out, uint64(len(b))), b...)
}

func appendHit(out []byte, h *index.Hit, shard int) []byte {
	out = appendBytes(out, []byte(h.Key))
	out = binary.AppendUvarint(out, uint64(h.Ordinal))
	out = binary.AppendUvarint(out, uint64(shard))
	for _, v := range []float64{h.Score, h.Expanded, h.Cosine} {
		out = binary.LittleEndian.AppendUint64(out, math.Float64bits(v))
	}
	if h.HasVector {
		return append(out, 1)
	}
	return append(out, 0)
}

// A wire is what is left of a reply to be read.
type wire struct {
	data []byte
	err  error
}

var errCut = errors.New("the reply is cut short")

// decodeReply reads what encode wrote.
func decodeReply(data []byte) (*reply, error) {
	if len(data) == 0 || data[0] != wireFormat {
		return nil, errors.New("the reply is of another version of the program; upgrade all hosts")
	}
	w := &wire{data: data[1:]}
	out := new(reply)
	if head := w.bytes(); w.err == nil {
		w.err = json.Unmarshal(head, out)
	}
	for k := range out.Found {
		for range w.count() {
			h, shard := w.hit()
			out.Found[k], out.Shards[k] = append(out.Found[k], h), append(out.Shards[k], shard)
		}
	}
	for range w.count() {
		var stored []byte
		if w.number() == 1 {
			stored = append([]byte{}, w.bytes()...)
		}
		out.Stored = append(out.Stored, stored)
	}
	return out, w.err
}

func (w *wire) number() uint64 {
	n, size := binary.Uvarint(w.data)
	if size <= 0 {
		w.data, w.err = nil, errCut
		return 0
	}
	w.data = w.data[size:]
	return n
}

// count is a number of things of which each takes a byte at least.
func (w *wire) count() uint64 {
	n := w.number()
	if n > uint64(len(w.data)) {
		w.data, w.err = nil, errCut
		return 0
	}
	return n
}

func (w *wire) bytes() []byte { return w.take(w.number()) }

func (w *wire) take(n uint64) []byte {
	if n > uint64(len(w.data)) {
		w.data, w.err = nil, errCut
		return nil
	}
	out := w.data[:n]
	w.data = w.data[n:]
	return out
}

func (w *wire) real() float64 {
	b := w.take(8)
	if b == nil {
		return 0
	}
	return math.Float64frombits(binary.LittleEndian.Uint64(b))
}

func (w *wire) hit() (h index.Hit, shard int) {
	h.Key = string(w.bytes())
	h.Ordinal, shard = int(w.number()), int(w.number())
	h.Score, h.Expanded, h.Cosine = w.real(), w.real(), w.real()
	if b := w.take(1); b != nil {
		h.HasVector = b[0] == 1
	}
	return h, shard
}
