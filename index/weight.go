package index

// Parameters of BM25F. A word in the section path counts as much as
// headingWeight in the body. They were fitted by MRR@10 on the training halves
// of the demo's questions and of bench/questions. Passages are cut to a length,
// so a short one is short by chance and normalisation helps less than usual.
const (
	k1            = 1.2
	bodyB         = 0.4
	headingB      = 0.3
	headingWeight = 2
)

// averages are the lengths that those of a passage are compared with, in words.
type averages struct {
	headingLength, bodyLength float64
}

// averages returns those of some passages.
func (s *stats) averages() averages {
	n := float64(max(1, s.Passages))
	return averages{max(1, float64(s.Heading)/n), max(1, float64(s.Body)/n)}
}

// body is what one occurrence weighs in a body of some length.
func (a *averages) body(length int) float64 {
	return 1 / (1 - bodyB + bodyB*float64(length)/a.bodyLength)
}

// heading is what one occurrence weighs in a heading of some length, by itself.
func (a *averages) heading(length int) float64 {
	return 1 / (1 - headingB + headingB*float64(length)/a.headingLength)
}

// gain is what a weighted frequency adds to a score.
func gain(worth, weight float64) float64 {
	if weight > saturated {
		return worth * (k1 + 1)
	}
	return worth * weight * (k1 + 1) / (weight + k1)
}

// saturated is the weight from which on no more is gained; it keeps an unbounded
// weight from making a gain that is no number.
const saturated = 1e12
