package index

import (
	"fmt"
	"math/rand/v2"
	"testing"
)

// The product in assembly is the plain one for every length, at the ends of the range too.
func TestDotIsThePlainOne(t *testing.T) {
	random := rand.New(rand.NewPCG(1, 2))
	for n := range 500 {
		a, b := make([]byte, n), make([]byte, n+3)
		for i := range a {
			a[i], b[i] = byte(random.IntN(256)), byte(random.IntN(256))
			if n%7 == 0 {
				a[i], b[i] = 0x80, 0x80
			}
		}
		want := int32(0)
		for i := range a {
			want += int32(int8(a[i])) * int32(int8(b[i]))
		}
		if got := dot(a, b); got != want {
			t.Fatalf("%d numbers: %d, not %d", n, got, want)
		}
	}
}

func BenchmarkDot(b *testing.B) {
	for _, n := range []int{128, 384, 1024} {
		x, y := make([]byte, n), make([]byte, n)
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			for b.Loop() {
				dot(x, y)
			}
		})
	}
}
