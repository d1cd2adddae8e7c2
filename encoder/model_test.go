package encoder

import (
	"encoding/binary"
	"encoding/json"
	"hash/crc32"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
)

// A draft is a model file in the making.
type draft struct {
	header header
	data   []byte
}

func (d *draft) add(name string, raw []byte) {
	d.data = append(d.data, make([]byte, (64-len(d.data)%64)%64)...)
	d.header.Tensors = append(d.header.Tensors, struct {
		Name   string `json:"name"`
		Offset int    `json:"offset"`
		Length int    `json:"length"`
		CRC    uint32 `json:"crc32c"`
	}{name, len(d.data), len(raw), crc32.Checksum(raw, castagnoli)})
	d.data = append(d.data, raw...)
}

func (d *draft) floats(name string, values []float32) {
	var raw []byte
	for _, v := range values {
		raw = binary.LittleEndian.AppendUint32(raw, math.Float32bits(v))
	}
	d.add(name, raw)
}

func (d *draft) file() []byte {
	head, _ := json.Marshal(d.header)
	out := []byte(magic)
	for _, v := range []uint32{version, uint32(len(head)), crc32.Checksum(head, castagnoli)} {
		out = binary.LittleEndian.AppendUint32(out, v)
	}
	return append(append(out, head...), d.data...)
}

var smallPieces = []string{"[PAD]", "[UNK]", "[CLS]", "[SEP]", "seed", "##s", "vault", "the", "cold", "store", "?", "."}

// small returns the file of a model with random weights, in floats.
func small() *draft {
	r := rand.New(rand.NewPCG(7, 8))
	d := &draft{header: header{Name: "small", Hidden: 64, Layers: 2, Heads: 2, Inner: 96, Positions: 40, Types: 1, Epsilon: 1e-12, Tokenizer: "wordpiece", Pooling: "mean", MostTokens: 40}}
	d.header.Special.Begin, d.header.Special.End, d.header.Special.Unknown = 2, 3, 1
	h := &d.header
	d.add("pieces", []byte(strings.Join(smallPieces, "\n")))
	d.floats("word.f32", random(r, len(smallPieces)*h.Hidden, 1))
	d.floats("position", random(r, h.Positions*h.Hidden, 0.3))
	d.floats("type", random(r, h.Hidden, 0.1))
	norm := func(name string) {
		d.floats(name+".gain", random(r, h.Hidden, 1))
		d.floats(name+".bias", random(r, h.Hidden, 0.2))
	}
	linear := func(name string, in, out int) {
		d.floats(name+".f32", random(r, in*out, 0.2))
		d.floats(name+".bias", random(r, out, 0.2))
	}
	norm("norm")
	for _, p := range []string{"layer.0.", "layer.1."} {
		linear(p+"attend", h.Hidden, 3*h.Hidden)
		linear(p+"mix", h.Hidden, h.Hidden)
		linear(p+"up", h.Hidden, h.Inner)
		linear(p+"down", h.Inner, h.Hidden)
		norm(p + "norm.attend")
		norm(p + "norm.inner")
	}
	return d
}

// reference puts tokens through a model with nothing but definitions, in float64.
func reference(m *Model, tokens []int32) []float64 {
	h := &m.header
	var x [][]float64
	for place, token := range tokens {
		row := make([]float32, h.Hidden)
		m.words.read(row, int(token))
		wide := make([]float64, h.Hidden)
		for i := range wide {
			wide[i] = float64(row[i]) + float64(m.places[place*h.Hidden+i])
		}
		x = append(x, normed(wide, m.norm))
	}
	for _, l := range m.layers {
		var all [][]float64
		for _, row := range x {
			all = append(all, mapped(row, &l.attend))
		}
		for i := range x {
			x[i] = normed(sum(x[i], mapped(attended(all, i, h), &l.mix)), l.attended)
			inner := mapped(x[i], &l.up)
			for k, v := range inner {
				inner[k] = v / 2 * math.Erfc(-v/math.Sqrt2)
			}
			x[i] = normed(sum(x[i], mapped(inner, &l.down)), l.done)
		}
	}
	out := make([]float64, h.Hidden)
	for _, row := range x {
		out = sum(out, row)
	}
	return out
}

func attended(all [][]float64, i int, h *header) []float64 {
	out := make([]float64, h.Hidden)
	for head := range h.Heads {
		at, total := head*h.head(), 0.0
		for _, other := range all {
			score := 0.0
			for d := range h.head() {
				score += all[i][at+d] * other[h.Hidden+at+d]
			}
			score = math.Exp(score)
			total += score
			for d := range h.head() {
				out[at+d] += score * other[2*h.Hidden+at+d]
			}
		}
		for d := range h.head() {
			out[at+d] /= total
		}
	}
	return out
}

func sum(a, b []float64) []float64 {
	out := slices.Clone(a)
	for i, v := range b {
		out[i] += v
	}
	return out
}

func mapped(row []float64, l *linear) []float64 {
	out := make([]float64, l.out)
	for j := range out {
		out[j] = float64(l.bias[j])
		for i, v := range row {
			out[j] += v * float64(l.f32[j/panel*panel*l.in+i*panel+j%panel])
		}
	}
	return out
}

func normed(row []float64, n layerNorm) []float64 {
	mean, variance := 0.0, 0.0
	for _, v := range row {
		mean += v / float64(len(row))
	}
	for _, v := range row {
		variance += (v - mean) * (v - mean) / float64(len(row))
	}
	out := make([]float64, len(row))
	for i, v := range row {
		out[i] = (v-mean)/math.Sqrt(variance+1e-12)*float64(n.gain[i]) + float64(n.bias[i])
	}
	return out
}

func TestLayersAgainstDefinitions(t *testing.T) {
	m, err := Open(small().file())
	if err != nil {
		t.Fatal(err)
	}
	texts := []string{"", "seed", "the seeds?", "the cold store. the seed vault?", strings.Repeat("cold seeds ", 30)}
	for _, k := range available() {
		m.kernels = k
		got, err := m.Encode(t.Context(), Passage, texts...)
		if err != nil {
			t.Fatal(err)
		}
		for i, text := range texts {
			if c := cosineTo(got[i], reference(m, m.Tokens(text))); c < 0.999999 {
				t.Errorf("%s: %.20q is at cosine %.7f to its definition", k.name, text, c)
			}
		}
	}
}

func cosineTo(v []float32, want []float64) float64 {
	dot, x, y := 0.0, 0.0, 0.0
	for i, w := range want {
		dot += float64(v[i]) * w
		x += float64(v[i]) * float64(v[i])
		y += w * w
	}
	return dot / math.Sqrt(x*y)
}

func TestDamagedModelFiles(t *testing.T) {
	whole := small().file()
	refuse := func(what string, data []byte) {
		t.Helper()
		if _, err := Open(data); err == nil || !strings.HasPrefix(err.Error(), "encoder: model file: ") {
			t.Errorf("%s: opened with error %v", what, err)
		}
	}
	refuse("nothing", nil)
	refuse("another file", []byte("%PDF-1.7\n%more than twenty bytes"))
	for n := 0; n < len(whole); n += 97 {
		refuse("cut off", whole[:n])
	}
	for at := 0; at < len(whole)-64; at += 61 {
		flipped := slices.Clone(whole)
		flipped[at] ^= 1
		if _, err := Open(flipped); err == nil && !inPadding(small(), at) {
			t.Errorf("bit %d of byte %d: not noticed", 0, at)
		}
	}
	for name, change := range map[string]func(*header){
		"heads": func(h *header) { h.Heads = 3 }, "inner": func(h *header) { h.Inner = 33 }, "layers": func(h *header) { h.Layers = 3 },
		"tokens": func(h *header) { h.MostTokens = 41 }, "pooling": func(h *header) { h.Pooling = "last" }, "tokenizer": func(h *header) { h.Tokenizer = "bytes" },
		"special": func(h *header) { h.Special.End = 99 }, "no tensors": func(h *header) { h.Tensors = nil },
	} {
		d := small()
		change(&d.header)
		refuse(name, d.file())
	}
}

// inPadding tells whether a byte of a file is between two tensors.
func inPadding(d *draft, at int) bool {
	at -= len(d.file()) - len(d.data)
	for _, t := range d.header.Tensors {
		if at >= t.Offset && at < t.Offset+t.Length {
			return false
		}
	}
	return at >= 0
}

func TestHalfPrecision(t *testing.T) {
	for bits, want := range map[uint16]float32{0: 0, 0x3c00: 1, 0xc000: -2, 0x3555: 0.33325195, 1: 5.9604645e-08, 0x7bff: 65504} {
		if got := float16(bits); got != want {
			t.Errorf("%04x is %g, not %g", bits, got, want)
		}
	}
}
