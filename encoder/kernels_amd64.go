package encoder

import "golang.org/x/sys/cpu"

// The tiles and rows in assembly. Every length is a multiple of 32 numbers, or of four
// rows; nothing is checked there.

//go:noescape
func dotVNNI8(t *intTile)

//go:noescape
func dotVNNI4(t *intTile)

//go:noescape
func dotAVX2(t *intTile)

//go:noescape
func mulAVX512x8(t *floatTile)

//go:noescape
func mulAVX512x4(t *floatTile)

//go:noescape
func mulAVX2x4(t *floatTile)

//go:noescape
func geluAVX2(row []float32)

//go:noescape
func geluAVX512(row []float32)

//go:noescape
func softmaxAVX2(row []float32)

//go:noescape
func softmaxAVX512(row []float32)

//go:noescape
func addNormAVX2(row, add, gain, bias []float32, epsilon float32)

//go:noescape
func quantiseAVX2(row []float32, out []byte) (scale float32)

//go:noescape
func quantiseWideAVX2(row []float32, out []byte) (scale float32)

var avx2 = kernels{
	name:    "avx2",
	dotMany: dotAVX2, dotFour: dotAVX2, mulMany: mulAVX2x4, mulFour: mulAVX2x4,
	many: 4, columns: panel / 2, floatColumns: panel, wide: true,
	gelu: geluAVX2, softmax: softmaxAVX2, addNorm: addNormAVX2, quantise: quantiseWideAVX2,
}

var vnni = kernels{
	name:    "vnni",
	dotMany: dotVNNI8, dotFour: dotVNNI4, mulMany: mulAVX512x8, mulFour: mulAVX512x4,
	many: 8, columns: 2 * panel, floatColumns: 2 * panel,
	gelu: geluAVX512, softmax: softmaxAVX512, addNorm: addNormAVX2, quantise: quantiseAVX2,
}

// available returns the kernels that this processor can run, the fastest first.
func available() []*kernels {
	var out []*kernels
	x := &cpu.X86
	if x.HasAVX512F && x.HasAVX512BW && x.HasAVX512VL && x.HasAVX512DQ && x.HasAVX512VNNI {
		out = append(out, &vnni)
	}
	if x.HasAVX2 && x.HasFMA {
		out = append(out, &avx2)
	}
	return append(out, &plain)
}
