package encoder

import "context"

// A workspace holds what one goroutine needs to put a chunk through the layers.
type workspace struct {
	model *Model

	x, y   []float32 // a row a token
	attend []float32 // query, key and value of each token
	mixed  []float32 // what each token takes from the others
	inner  []float32
	scores []float32 // a row a token, of one head
	keys   []float32 // of one head, in panels
	none   []float32 // zeros for a bias
	bytes  []byte    // quantised rows
	scales []float32 // of the quantised rows
}

// A stretch is a text's rows in a chunk.
type stretch struct{ text, row, count int }

// Rows are worked on four at a time, keys 32.
func padded(n int) int   { return (n + 3) &^ 3 }
func padded32(n int) int { return (n + 31) &^ 31 }

// grow makes room for m rows, of texts of at most longest.
func (w *workspace) grow(m, longest int) {
	h := &w.model.header
	keys := padded32(longest)
	room(&w.x, m*h.Hidden)
	room(&w.y, m*h.Hidden)
	room(&w.mixed, m*h.Hidden)
	room(&w.attend, m*3*h.Hidden)
	room(&w.inner, m*h.Inner)
	room(&w.scores, padded(longest)*keys)
	room(&w.keys, keys*h.head())
	room(&w.none, max(keys, h.head()))
	room(&w.scales, m)
	room(&w.bytes, w.model.kernels.kept(m*max(h.Inner, h.Hidden)))
}

func room[T any](s *[]T, n int) {
	if len(*s) < n {
		*s = make([]T, n)
	}
}

// run puts some of the texts through the layers.
func (w *workspace) run(ctx context.Context, texts [][]int32, batch []int, visit func(i int, rows []float32)) {
	h := &w.model.header
	m, longest := 0, 0
	var all []stretch
	for _, i := range batch {
		n := len(texts[i])
		all = append(all, stretch{i, m, n})
		m, longest = m+padded(n), max(longest, n)
	}
	w.grow(m, longest)
	for _, s := range all {
		w.lookUp(s, texts[s.text])
	}
	wait, patient := ctx.Value(patienceKey{}).(func(context.Context))
	for i := range w.model.layers {
		if patient {
			wait(ctx)
		}
		if ctx.Err() != nil {
			return
		}
		w.layer(&w.model.layers[i], m, all)
	}
	for _, s := range all {
		visit(s.text, w.x[s.row*h.Hidden:(s.row+s.count)*h.Hidden])
	}
}

// lookUp sets the rows of a text to those of its pieces and their places.
func (w *workspace) lookUp(s stretch, tokens []int32) {
	m := w.model
	n := m.header.Hidden
	for j := range padded(s.count) {
		x := w.x[(s.row+j)*n : (s.row+j+1)*n]
		if j >= s.count {
			clear(x)
			continue
		}
		m.words.read(x, int(tokens[j]))
		m.kernels.addNorm(x, m.places[j*n:(j+1)*n], m.norm.gain, m.norm.bias, m.header.Epsilon)
	}
}

// layer puts m rows through a layer: each token takes from the others what its query
// asks of their keys, and then goes through a map of its own; both are added to what was
// there.
func (w *workspace) layer(l *layer, m int, all []stretch) {
	k, inner := w.model.kernels, w.model.header.Inner
	w.apply(&l.attend, m, w.x, w.attend)
	for _, s := range all {
		w.mix(s)
	}
	w.apply(&l.mix, m, w.mixed, w.y)
	w.add(m, &l.attended)
	w.apply(&l.up, m, w.x, w.inner)
	for r := range m {
		k.gelu(w.inner[r*inner : (r+1)*inner])
	}
	w.apply(&l.down, m, w.inner, w.y)
	w.add(m, &l.done)
}

// apply sets y to what a map makes of m rows of x.
func (w *workspace) apply(l *linear, m int, x, y []float32) {
	k := w.model.kernels
	if l.f32 != nil {
		k.mul(m, l.out, l.in, matrix{x, l.in}, panels{l.f32, panel, panel * l.in}, l.bias, matrix{y, l.out})
		return
	}
	width := k.kept(l.in)
	for r := range m {
		w.scales[r] = k.quantise(x[r*l.in:(r+1)*l.in], w.bytes[r*width:(r+1)*width])
	}
	k.dot(m, w.bytes, w.scales, l, y)
}

// add adds y to x and norms it.
func (w *workspace) add(m int, n *layerNorm) {
	width := w.model.header.Hidden
	for r := range m {
		at := r * width
		w.model.kernels.addNorm(w.x[at:at+width], w.y[at:at+width], n.gain, n.bias, w.model.header.Epsilon)
	}
}

// never is the score of a key that stands for nothing.
const never = -1e30

// mix sets what each token of a text takes from the others, head by head.
func (w *workspace) mix(s stretch) {
	h, k := &w.model.header, w.model.kernels
	width, head := 3*h.Hidden, h.head()
	rows, keys := padded(s.count), padded32(s.count)
	for i := range h.Heads {
		at := s.row*width + i*head
		query, key, value := w.attend[at:], w.attend[at+h.Hidden:], w.attend[at+2*h.Hidden:]
		w.turn(key, s.count, keys)
		k.mul(rows, keys, head, matrix{query, width}, panels{w.keys, panel, panel * head}, w.none, matrix{w.scores, keys})
		for r := range rows {
			scores := w.scores[r*keys : (r+1)*keys]
			for j := s.count; j < keys; j++ {
				scores[j] = never
			}
			k.softmax(scores)
		}
		k.mul(rows, head, s.count, matrix{w.scores, keys}, panels{value, width, panel}, w.none, matrix{w.mixed[s.row*h.Hidden+i*head:], h.Hidden})
	}
}

// turn puts the keys of a head into panels of 16 tokens, zeros behind the last.
func (w *workspace) turn(key []float32, count, keys int) {
	h := &w.model.header
	width, head := 3*h.Hidden, h.head()
	for j := range keys {
		to := w.keys[j/panel*panel*head+j%panel:]
		if j >= count {
			for d := range head {
				to[d*panel] = 0
			}
			continue
		}
		for d, v := range key[j*width : j*width+head] {
			to[d*panel] = v
		}
	}
}
