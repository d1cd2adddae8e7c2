package encoder

import (
	"encoding/binary"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
)

func random(r *rand.Rand, n int, spread float32) []float32 {
	out := make([]float32, n)
	for i := range out {
		out[i] = float32(r.NormFloat64()) * spread
	}
	return out
}

// quantised makes a map of random weights as train/convert.py does.
func quantised(r *rand.Rand, in, out int) linear {
	l := linear{in: in, out: out, q8: make([]int8, in*out), scale: random(r, out, 0.01), sum: make([]int32, out), bias: random(r, out, 1)}
	for i := range l.q8 {
		q := int8(r.IntN(255) - 127)
		l.q8[i] = q
		l.sum[i/(panel*in)*panel+i%(4*panel)/4] += int32(q)
	}
	return l
}

// weight returns a number of a map by its row and column.
func (l *linear) weight(i, j int) float64 {
	return float64(l.q8[j/panel*panel*l.in+i/4*4*panel+j%panel*4+i%4])
}

// quantisedTo returns what a number of quantised rows stands for.
func quantisedTo(k *kernels, rows []byte, i int) float64 {
	if k.wide {
		return float64(int16(binary.NativeEndian.Uint16(rows[2*i:])))
	}
	return float64(rows[i]) - 128
}

func TestTilesAgainstPlainSums(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for _, k := range available() {
		for _, m := range []int{4, 8, 12, 16, 20, 28, 64} {
			for _, shape := range [][2]int{{32, 32}, {64, 96}, {384, 64}, {1536, 32}} {
				in, out := shape[0], shape[1]
				x, l := random(r, m*in, 2), quantised(r, in, out)
				rows, scales, y := make([]byte, k.kept(m*in)), make([]float32, m), make([]float32, m*out)
				want := make([]float64, m*out)
				for i := range m {
					scales[i] = k.quantise(x[i*in:(i+1)*in], rows[k.kept(i*in):k.kept((i+1)*in)])
					for j := range out {
						sum := 0.0
						for n := range in {
							q := quantisedTo(k, rows, i*in+n)
							if d := math.Abs(q - float64(x[i*in+n]/scales[i])); d > 0.5001 {
								t.Fatalf("%s: %g at a scale of %g became %g", k.name, x[i*in+n], scales[i], q)
							}
							sum += q * l.weight(n, j)
						}
						want[i*out+j] = sum*float64(scales[i])*float64(l.scale[j]) + float64(l.bias[j])
					}
				}
				k.dot(m, rows, scales, &l, y)
				for i := range y {
					if d := math.Abs(float64(y[i]) - want[i]); d > 1e-5*math.Max(1, math.Abs(want[i])) {
						t.Fatalf("%s: %d rows of %d by %d: number %d is %g, not %g", k.name, m, in, out, i, y[i], want[i])
					}
				}
			}
		}
	}
}

func TestFloatTilesAgainstPlainSums(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	for _, k := range available() {
		for _, m := range []int{4, 8, 12, 20, 36} {
			for _, steps := range []int{1, 5, 32, 100} {
				const n, next = 64, 70
				a, b, bias, c := random(r, m*(steps+3), 1), random(r, steps*n, 1), random(r, n, 1), make([]float32, m*next)
				k.mul(m, n, steps, matrix{a, steps + 3}, panels{b, panel, panel * steps}, bias, matrix{c, next})
				for i := range m {
					for j := range n {
						want := float64(bias[j])
						for s := range steps {
							want += float64(a[i*(steps+3)+s]) * float64(b[j/panel*panel*steps+s*panel+j%panel])
						}
						if d := math.Abs(want - float64(c[i*next+j])); d > 1e-4 {
							t.Fatalf("%s: %d rows over %d steps: row %d column %d is %g, not %g", k.name, m, steps, i, j, c[i*next+j], want)
						}
					}
				}
			}
		}
	}
}

func TestRowsAgainstDefinitions(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	for _, k := range available() {
		for _, n := range []int{32, 64, 384, 1536} {
			x := random(r, n, 3)
			x[0], x[1], x[n-1] = never, 40, -40
			near := func(what string, got []float32, want func(i int) float64) {
				t.Helper()
				for i, v := range got {
					if w := want(i); math.Abs(float64(v)-w) > 2e-6*math.Max(1, math.Abs(w)) {
						t.Fatalf("%s: %s of %d numbers: number %d (%g) is %g, not %g", k.name, what, n, i, x[i], v, w)
					}
				}
			}
			got := slices.Clone(x)
			k.softmax(got)
			sum := 0.0
			for _, v := range x {
				sum += math.Exp(float64(v) - 40)
			}
			near("softmax", got, func(i int) float64 { return math.Exp(float64(x[i])-40) / sum })
			x[0] = -0.5
			got = slices.Clone(x)
			k.gelu(got)
			near("GELU", got, func(i int) float64 { return float64(x[i]) / 2 * math.Erfc(-float64(x[i])/math.Sqrt2) })
			add, gain, bias := random(r, n, 1), random(r, n, 1), random(r, n, 1)
			got = slices.Clone(x)
			k.addNorm(got, add, gain, bias, 1e-12)
			mean, variance := 0.0, 0.0
			for i := range x {
				mean += float64(x[i]+add[i]) / float64(n)
			}
			for i := range x {
				variance += math.Pow(float64(x[i]+add[i])-mean, 2) / float64(n)
			}
			near("norm", got, func(i int) float64 {
				return (float64(x[i]+add[i])-mean)/math.Sqrt(variance)*float64(gain[i]) + float64(bias[i])
			})
		}
	}
}

func TestRowOfZerosIsQuantised(t *testing.T) {
	for _, k := range available() {
		out := make([]byte, k.kept(64))
		if scale := k.quantise(make([]float32, 64), out); scale <= 0 || math.IsNaN(float64(scale)) || math.IsInf(float64(scale), 0) {
			t.Errorf("%s: the scale of zeros is %g", k.name, scale)
		}
	}
}
