package encoder

// Cosine is how alike two vectors of length one are, up to 1 for the same direction.
func Cosine(a, b []float32) float64 {
	sum := 0.0
	for i := range min(len(a), len(b)) {
		sum += float64(a[i]) * float64(b[i])
	}
	return sum
}
