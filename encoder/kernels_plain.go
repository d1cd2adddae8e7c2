package encoder

import (
	"encoding/binary"
	"math"
	"unsafe"
)

// plain are the kernels in Go, for processors that have no others. Sums of integers are
// those of the assembly exactly.
var plain = kernels{
	name:    "plain",
	dotMany: dotPlain, dotFour: dotPlain, mulMany: mulPlain, mulFour: mulPlain,
	many: 4, columns: panel, floatColumns: panel, wide: true,
	gelu: geluPlain, softmax: softmaxPlain, addNorm: addNormPlain, quantise: quantisePlain,
}

func dotPlain(t *intTile) {
	b := unsafe.Slice(t.b, t.steps*4*panel)
	for i := range 4 {
		a := unsafe.Slice((*int16)(unsafe.Add(unsafe.Pointer(t.a), i*t.aNext)), 4*t.steps)
		var sums [panel]int32
		for s := range t.steps {
			a0, a1, a2, a3 := int32(a[4*s]), int32(a[4*s+1]), int32(a[4*s+2]), int32(a[4*s+3])
			step := (*[4 * panel]int8)(b[4*panel*s:])
			for j := range sums {
				sums[j] += a0*int32(step[4*j]) + a1*int32(step[4*j+1]) + a2*int32(step[4*j+2]) + a3*int32(step[4*j+3])
			}
		}
		scale, bias := (*[panel]float32)(unsafe.Pointer(t.scale)), (*[panel]float32)(unsafe.Pointer(t.bias))
		row := *(*float32)(unsafe.Add(unsafe.Pointer(t.rows), 4*i))
		c := (*[panel]float32)(unsafe.Add(unsafe.Pointer(t.c), 4*i*t.cNext))
		for j, sum := range sums {
			c[j] = fma(float32(sum)*scale[j], row, bias[j])
		}
	}
}

func mulPlain(t *floatTile) {
	for i := range 4 {
		a := unsafe.Slice((*float32)(unsafe.Add(unsafe.Pointer(t.a), 4*i*t.aNext)), t.steps)
		sums := *(*[panel]float32)(unsafe.Pointer(t.bias))
		for s, v := range a {
			b := (*[panel]float32)(unsafe.Add(unsafe.Pointer(t.b), 4*s*t.bRow))
			for j := range sums {
				sums[j] += v * b[j]
			}
		}
		*(*[panel]float32)(unsafe.Add(unsafe.Pointer(t.c), 4*i*t.cNext)) = sums
	}
}

func fma(x, y, z float32) float32 { return float32(math.FMA(float64(x), float64(y), float64(z))) }

func geluPlain(row []float32) {
	for i, v := range row {
		row[i] = float32(0.5 * float64(v) * (1 + math.Erf(float64(v)/math.Sqrt2)))
	}
}

func softmaxPlain(row []float32) {
	most := float32(-math.MaxFloat32)
	for _, v := range row {
		most = max(most, v)
	}
	sum := float32(0)
	for i, v := range row {
		row[i] = float32(math.Exp(float64(max(v-most, -87))))
		sum += row[i]
	}
	for i := range row {
		row[i] *= 1 / sum
	}
}

func addNormPlain(row, add, gain, bias []float32, epsilon float32) {
	mean, variance := float32(0), float32(0)
	for i := range row {
		row[i] += add[i]
		mean += row[i]
	}
	mean /= float32(len(row))
	for _, v := range row {
		variance += (v - mean) * (v - mean)
	}
	inverse := float32(1 / math.Sqrt(float64(variance/float32(len(row))+epsilon)))
	for i, v := range row {
		row[i] = (v-mean)*inverse*gain[i] + bias[i]
	}
}

// most of a quantised number, either way.
const most = 127

// least is what a row's largest number counts for at the least, so that nothing is
// divided by zero: the smallest normal float32.
const least = 1.1754944e-38

func quantisePlain(row []float32, out []byte) float32 {
	largest := float32(least)
	for _, v := range row {
		largest = max(largest, v, -v)
	}
	inverse := most / largest
	for i, v := range row {
		binary.NativeEndian.PutUint16(out[2*i:], uint16(int16(math.RoundToEven(float64(v*inverse)))))
	}
	return largest / most
}
