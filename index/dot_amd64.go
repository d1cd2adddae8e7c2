package index

import "golang.org/x/sys/cpu"

//go:noescape
func dotAVX2(a, b *byte, n int) int32

// dot multiplies rows of signed bytes of one length and adds up.
func dot(a, b []byte) int32 {
	whole := len(a) &^ 31
	if !cpu.X86.HasAVX2 || whole == 0 {
		return plainDot(a, b)
	}
	b = b[:len(a)]
	return dotAVX2(&a[0], &b[0], whole) + plainDot(a[whole:], b[whole:])
}
