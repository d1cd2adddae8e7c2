//go:build !amd64

package index

// dot multiplies rows of signed bytes of one length and adds up.
func dot(a, b []byte) int32 { return plainDot(a, b) }
