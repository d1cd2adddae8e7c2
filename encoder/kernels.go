package encoder

import "math"

// kernels are the inner loops in one of the ways that processors have for them. Tiles
// multiply a few rows by a few columns; the others work on one row.
//
// Every set works in the same order and so gives the same bits, except the plain one,
// whose exponential and sums of floats are Go's.
type kernels struct {
	name string
	// Tiles of many rows, and of four.
	dotMany, dotFour func(*intTile)
	mulMany, mulFour func(*floatTile)
	many             int  // rows of dotMany and mulMany
	columns          int  // of the tiles of integers
	floatColumns     int  // of the tiles of floats
	wide             bool // numbers made of a row are int16, not bytes with an offset

	gelu     func(row []float32)
	softmax  func(row []float32)                                   // of a multiple of 32 numbers
	addNorm  func(row, add, gain, bias []float32, epsilon float32) // row = norm(row + add)
	quantise func(row []float32, out []byte) (scale float32)
}

// An intTile says what a tile of integers multiplies:
//
//	c = (a · b) × rows × scale + bias
//
// Rows of a are bytes 128 above what they stand for, or int16. b has the columns in
// panels of 16, in which four numbers of a column stand side by side.
type intTile struct {
	steps int // numbers of a row over four
	a     *byte
	aNext int // bytes from row to row
	b     *int8
	bNext int    // bytes from panel to panel
	sum   *int32 // of each column of b
	scale *float32
	bias  *float32
	rows  *float32 // the scale of each row of a
	c     *float32
	cNext int // floats from row to row
}

// A floatTile says what a tile of floats multiplies: c = a · b + bias, where b is in
// panels of 16 columns.
type floatTile struct {
	steps int // numbers of a row
	a     *float32
	aNext int // floats from row to row
	b     *float32
	bRow  int // floats from row to row
	bNext int // floats from panel to panel
	bias  *float32
	c     *float32
	cNext int
}

// panel is how many columns stand together.
const panel = 16

// kept returns how many bytes a row of n numbers takes when it is quantised.
func (k *kernels) kept(n int) int {
	if k.wide {
		return 2 * n
	}
	return n
}

// rowsOf hands out rows in tiles: m is a multiple of four.
func rowsOf(m, many int, tile func(row, count int)) {
	for i := 0; i < m; {
		n := 4
		if m-i >= many {
			n = many
		}
		tile(i, n)
		i += n
	}
}

// dot multiplies m quantised rows by a map.
func (k *kernels) dot(m int, a []byte, rows []float32, l *linear, c []float32) {
	t := intTile{steps: l.in / 4, aNext: k.kept(l.in), bNext: panel * l.in, cNext: l.out}
	for j := 0; j < l.out; j += k.columns {
		// Columns of half a panel are eight numbers in.
		t.b, t.sum, t.scale, t.bias = &l.q8[j/panel*panel*l.in+j%panel*4], &l.sum[j], &l.scale[j], &l.bias[j]
		rowsOf(m, k.many, func(i, n int) {
			t.a, t.rows, t.c = &a[i*t.aNext], &rows[i], &c[i*l.out+j]
			if n == 4 {
				k.dotFour(&t)
			} else {
				k.dotMany(&t)
			}
		})
	}
}

// A matrix is rows of floats that begin so many floats apart.
type matrix struct {
	data []float32
	next int
}

// panels are columns of floats: those of a panel stand together in a row.
type panels struct {
	data []float32
	row  int // floats from row to row
	next int // floats from panel to panel
}

// mul sets m rows and n columns of c to a · b + bias, over steps numbers.
func (k *kernels) mul(m, n, steps int, a matrix, b panels, bias []float32, c matrix) {
	t := floatTile{steps: steps, aNext: a.next, bRow: b.row, bNext: b.next, cNext: c.next}
	for j := 0; j < n; j += k.floatColumns {
		t.b, t.bias = &b.data[j/panel*b.next], &bias[j]
		rowsOf(m, k.many, func(i, n int) {
			t.a, t.c = &a.data[i*a.next], &c.data[i*c.next+j]
			if n == 4 {
				k.mulFour(&t)
			} else {
				k.mulMany(&t)
			}
		})
	}
}

// constants are what the kernels in assembly calculate with, each as often as fits in
// the widest register; their names stand in rows_amd64.s.
//
//lint:ignore U1000 it is read in assembly alone
var constants = func() (out [21][16]float32) {
	for i, v := range []float32{
		-87, math.Log2E, 12582912, -0.693359375, 2.12194440e-4, // exp: least, and reduction by 2ⁿ
		1.9875691500e-4, 1.3981999507e-3, 8.3334519073e-3, 4.1665795894e-2, 1.6666665459e-1, 5.0000001201e-1, 1,
		math.Float32frombits(0x7fffffff), -0.5, 0.3275911 / math.Sqrt2, // erfc: Abramowitz and Stegun 7.1.26
		1.061405429 / 2, -1.453152027 / 2, 1.421413741 / 2, -0.284496736 / 2, 0.254829592 / 2,
		-math.MaxFloat32,
	} {
		for j := range out[i] {
			out[i][j] = v
		}
	}
	return out
}()
