package encoder

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"hash/crc32"
	"math"
	"strings"
	"sync"
	"unsafe"
)

// A Model is an encoder ready for use. It may be used by many goroutines.
type Model struct {
	Name       string // with its precision; vectors of two names cannot be compared
	Licence    string
	Dimensions int

	header    header
	tokenizer tokenizer
	words     table
	places    []float32 // a row a place, the first kind of token added
	norm      layerNorm
	layers    []layer
	project   *linear // what is done to a text's vector in the end; nil for nothing
	heads     map[string]*Head
	kernels   *kernels
	spaces    sync.Pool
}

// A tokenizer cuts texts into pieces.
type tokenizer interface {
	// appendPieces adds the numbers of a text's pieces until there are most numbers.
	appendPieces(to []int32, s string, most int) []int32
}

// A layer of the model.
type layer struct {
	attend, mix, up, down linear
	attended, done        layerNorm
}

// A linear is a map of rows of in numbers to rows of out.
type linear struct {
	in, out int
	q8      []int8    // by panels, see intTile
	scale   []float32 // of each column
	sum     []int32   // of each column
	f32     []float32 // by panels, in place of the above
	bias    []float32
}

type layerNorm struct{ gain, bias []float32 }

// header is the JSON at the beginning of a model file.
type header struct {
	Name      string  `json:"name"`
	Licence   string  `json:"licence"`
	Hidden    int     `json:"hidden"`
	Layers    int     `json:"layers"`
	Heads     int     `json:"heads"`
	Inner     int     `json:"inner"`
	Positions int     `json:"positions"`
	Types     int     `json:"types"`
	Epsilon   float32 `json:"epsilon"`

	Tokenizer string `json:"tokenizer"` // "wordpiece" or "unigram"
	Special   struct {
		Begin   int32 `json:"begin"`
		End     int32 `json:"end"`
		Unknown int32 `json:"unknown"`
	} `json:"special"`
	Pooling    string `json:"pooling"` // "mean"
	MostTokens int    `json:"most_tokens"`
	Query      string `json:"query"`   // put before a question
	Passage    string `json:"passage"` // put before a passage

	// Outputs are heads: maps of a token's row to so many numbers, by their names.
	Outputs map[string]int `json:"outputs,omitempty"`

	Tensors []struct {
		Name   string `json:"name"`
		Offset int    `json:"offset"` // from the end of the header
		Length int    `json:"length"` // bytes
		CRC    uint32 `json:"crc32c"`
	} `json:"tensors"`
}

func (h *header) head() int { return h.Hidden / h.Heads }

const (
	magic   = "JARDMODL"
	version = 1
	fixed   = len(magic) + 12 // bytes before the JSON
)

var castagnoli = crc32.MakeTable(crc32.Castagnoli)

// Open makes a model of the bytes of a model file, which it keeps: they must not change.
func Open(data []byte) (*Model, error) {
	m, err := open(data)
	if err != nil {
		return nil, fmt.Errorf("encoder: model file: %w; make it anew with train/convert.py", err)
	}
	return m, nil
}

func open(data []byte) (*Model, error) {
	h, rest, err := readHeader(data)
	if err != nil {
		return nil, err
	}
	if err := h.check(); err != nil {
		return nil, err
	}
	f := &file{tensors: map[string][]byte{}}
	for _, t := range h.Tensors {
		if t.Offset < 0 || t.Length < 0 || t.Offset > len(rest)-t.Length {
			return nil, fmt.Errorf("%s goes beyond its end", t.Name)
		}
		part := rest[t.Offset : t.Offset+t.Length : t.Offset+t.Length]
		if crc32.Checksum(part, castagnoli) != t.CRC {
			return nil, fmt.Errorf("%s is damaged", t.Name)
		}
		f.tensors[t.Name] = part
	}
	m := &Model{Name: h.Name, Licence: h.Licence, Dimensions: h.Hidden, header: *h, kernels: available()[0]}
	m.spaces.New = func() any { return &workspace{model: m} }
	f.load(m)
	return m, errors.Join(f.problems...)
}

func readHeader(data []byte) (*header, []byte, error) {
	if len(data) < fixed || string(data[:len(magic)]) != magic {
		return nil, nil, errors.New("it does not begin like one")
	}
	if v := binary.LittleEndian.Uint32(data[8:]); v != version {
		return nil, nil, fmt.Errorf("it has format %d, this program reads %d", v, version)
	}
	n, sum := binary.LittleEndian.Uint32(data[12:]), binary.LittleEndian.Uint32(data[16:])
	if uint64(n) > uint64(len(data)-fixed) {
		return nil, nil, errors.New("it is cut off in its header")
	}
	raw := data[fixed : fixed+int(n)]
	if crc32.Checksum(raw, castagnoli) != sum {
		return nil, nil, errors.New("its header is damaged")
	}
	h := new(header)
	if err := json.Unmarshal(raw, h); err != nil {
		return nil, nil, fmt.Errorf("its header: %w", err)
	}
	return h, data[fixed+int(n):], nil
}

// Bounds of a model's shape, beyond which a file is damaged rather than large.
const (
	maxWidth  = 1 << 13
	maxLayers = 1 << 7
	maxTokens = 1 << 13
)

// check tells whether the kernels can work with a model's shape.
func (h *header) check() error {
	switch {
	case h.Hidden <= 0 || h.Heads <= 0 || h.Hidden > maxWidth || h.Hidden%h.Heads != 0 || h.head()%32 != 0:
		return fmt.Errorf("%d numbers a token in %d heads: a head needs a multiple of 32", h.Hidden, h.Heads)
	case h.Inner <= 0 || h.Inner > maxWidth || h.Inner%32 != 0:
		return fmt.Errorf("%d inner numbers: they have to be a multiple of 32", h.Inner)
	case h.Layers < 0 || h.Layers > maxLayers:
		return fmt.Errorf("%d layers", h.Layers)
	case h.MostTokens < 3 || h.MostTokens > h.Positions || h.Positions > maxTokens:
		return fmt.Errorf("at most %d tokens in %d places", h.MostTokens, h.Positions)
	case h.Pooling != "mean":
		return fmt.Errorf("pooling %q: only mean is known", h.Pooling)
	case h.Tokenizer != "wordpiece" && h.Tokenizer != "unigram":
		return fmt.Errorf("tokenizer %q: only wordpiece and unigram are known", h.Tokenizer)
	}
	return nil
}

// A file hands out tensors and remembers what is wrong with them.
type file struct {
	tensors  map[string][]byte
	problems []error
}

// raw returns a tensor of so many bytes, or of any number if size is negative.
func (f *file) raw(name string, size int) []byte {
	t, ok := f.tensors[name]
	if !ok || size >= 0 && len(t) != size {
		f.problems = append(f.problems, fmt.Errorf("%s has %d bytes in place of %d", name, len(t), size))
		return make([]byte, max(size, 0))
	}
	return t
}

// floats returns a copy of a tensor, which need not be aligned in the file.
func (f *file) floats(name string, n int) []float32 {
	raw := f.raw(name, 4*n)
	out := make([]float32, n)
	for i := range out {
		out[i] = math.Float32frombits(binary.LittleEndian.Uint32(raw[4*i:]))
	}
	return out
}

// bytesOf returns bytes as signed ones, without a copy.
func bytesOf(raw []byte) []int8 {
	return unsafe.Slice((*int8)(unsafe.Pointer(unsafe.SliceData(raw))), len(raw))
}

func (f *file) load(m *Model) {
	h := &m.header
	pieces := strings.Split(string(f.raw("pieces", -1)), "\n")
	var scores []float32
	if h.Tokenizer == "unigram" {
		scores = f.floats("pieces.score", len(pieces))
		m.tokenizer = newUnigram(pieces, scores, h.Special.Unknown)
	} else {
		m.tokenizer = newWordPiece(pieces, h.Special.Unknown)
	}
	for _, special := range []int32{h.Special.Begin, h.Special.End, h.Special.Unknown} {
		if special < 0 || int(special) >= len(pieces) {
			f.problems = append(f.problems, fmt.Errorf("special piece %d of %d", special, len(pieces)))
		}
	}
	m.words = f.table("word", len(pieces), h.Hidden)
	m.places = f.floats("position", h.Positions*h.Hidden)
	kinds := f.floats("type", h.Types*h.Hidden)
	for i := range m.places {
		m.places[i] += kinds[i%h.Hidden]
	}
	m.norm = f.norm("norm", h.Hidden)
	for i := range h.Layers {
		p := fmt.Sprintf("layer.%d.", i)
		m.layers = append(m.layers, layer{
			attend: f.linear(p+"attend", h.Hidden, 3*h.Hidden), mix: f.linear(p+"mix", h.Hidden, h.Hidden),
			up: f.linear(p+"up", h.Hidden, h.Inner), down: f.linear(p+"down", h.Inner, h.Hidden),
			attended: f.norm(p+"norm.attend", h.Hidden), done: f.norm(p+"norm.inner", h.Hidden),
		})
	}
	if f.tensors["project.f32"] != nil {
		l := f.linear("project", h.Hidden, h.Hidden)
		m.project = &l
	}
	m.heads = map[string]*Head{}
	for name, wanted := range h.Outputs {
		if wanted < 1 || wanted > maxWidth {
			f.problems = append(f.problems, fmt.Errorf("head %s gives %d numbers", name, wanted))
			continue
		}
		l := f.linear("head."+name, h.Hidden, (wanted+panel-1)/panel*panel)
		if l.f32 == nil {
			f.problems = append(f.problems, fmt.Errorf("head %s is not of float32", name))
		}
		m.heads[name] = &Head{l, wanted}
	}
}

func (f *file) norm(name string, n int) layerNorm {
	return layerNorm{f.floats(name+".gain", n), f.floats(name+".bias", n)}
}

func (f *file) linear(name string, in, out int) linear {
	l := linear{in: in, out: out, bias: f.floats(name+".bias", out)}
	if f.tensors[name+".f32"] != nil {
		l.f32 = f.floats(name+".f32", in*out)
		return l
	}
	l.q8 = bytesOf(f.raw(name+".q8", in*out))
	l.scale = f.floats(name+".scale", out)
	for raw := f.raw(name+".sum", 4*out); len(raw) > 0; raw = raw[4:] {
		l.sum = append(l.sum, int32(binary.LittleEndian.Uint32(raw)))
	}
	return l
}

// A table gives the row of each piece, kept in one of three ways.
type table struct {
	width int
	f32   []float32
	q8    []int8
	scale []float32 // of each row of q8
	q4    []byte    // blocks of 32 numbers: the low halves of 16 bytes, then the high ones
	half  []byte    // a float16 a block of q4
}

const block = 32

func (f *file) table(name string, rows, width int) table {
	t := table{width: width}
	switch {
	case f.tensors[name+".f32"] != nil:
		t.f32 = f.floats(name+".f32", rows*width)
	case f.tensors[name+".q4"] != nil:
		t.q4, t.half = f.raw(name+".q4", rows*width/2), f.raw(name+".f16", rows*width/block*2)
	default:
		t.q8, t.scale = bytesOf(f.raw(name+".q8", rows*width)), f.floats(name+".scale", rows)
	}
	return t
}

// read sets x to a row.
func (t *table) read(x []float32, row int) {
	at := row * t.width
	switch {
	case t.f32 != nil:
		copy(x, t.f32[at:])
	case t.q8 != nil:
		for i, q := range t.q8[at : at+t.width] {
			x[i] = float32(q) * t.scale[row]
		}
	default:
		for b := 0; b < t.width; b += block {
			n := (at + b) / block
			scale := float16(binary.LittleEndian.Uint16(t.half[2*n:]))
			for i, q := range t.q4[block/2*n : block/2*(n+1)] {
				x[b+i], x[b+block/2+i] = float32(int(q&15)-8)*scale, float32(int(q>>4)-8)*scale
			}
		}
	}
}

// float16 widens an IEEE 754 number of half precision.
func float16(bits uint16) float32 {
	sign, exponent, fraction := bits>>15, int(bits>>10&31), float64(bits&1023)
	v := math.Ldexp(1+fraction/1024, exponent-15)
	if exponent == 0 {
		v = math.Ldexp(fraction/1024, -14)
	}
	if sign == 1 {
		v = -v
	}
	return float32(v)
}

// IsModel tells whether bytes begin like a model file.
func IsModel(data []byte) bool { return bytes.HasPrefix(data, []byte(magic)) }
