package measure

import (
	"cmp"
	"slices"
)

// Calibration tells whether the confidence of answers can be believed, and what a higher
// threshold would bring. It is of the answers that were given and can be judged; what was
// refused has no answer that could be right or wrong.
type Calibration struct {
	Answers int     `json:"answers"`
	Brier   float64 `json:"brier"` // mean squared distance of confidence and truth (Brier, 1950)
	ECE     float64 `json:"ece"`   // expected calibration error over the bins (Guo et al., 2017)
	Bins    []Bin   `json:"bins"`  // those with answers
	Risk    []Risk  `json:"risk"`  // from the surest answer to all that are given
	AURC    float64 `json:"aurc"`  // mean risk over the curve (Geifman and El-Yaniv, 2017)
}

// A Bin is the answers whose confidence lies in one tenth.
type Bin struct {
	From       float64 `json:"from"`
	Confidence float64 `json:"confidence"` // mean
	Right      float64 `json:"right"`      // share
	Answers    int     `json:"answers"`
}

// A Risk is what one would have if only answers of so much confidence or more were given.
type Risk struct {
	Confidence float64 `json:"confidence"`
	Coverage   float64 `json:"coverage"` // share of all questions that are answered
	Risk       float64 `json:"risk"`     // share of those answers that are wrong
}

const bins = 10

// calibrationOf returns nil where no answer can be judged.
func calibrationOf(records []Record) *Calibration {
	var given []*Record
	for i := range records {
		if r := &records[i]; !r.refused() && r.Outcome != Unjudged {
			given = append(given, r)
		}
	}
	if len(given) == 0 {
		return nil
	}
	slices.SortStableFunc(given, func(a, b *Record) int { return cmp.Compare(b.Confidence, a.Confidence) })
	out := &Calibration{Answers: len(given), Bins: []Bin{}, Risk: []Risk{}}
	wrong := 0.0
	for i, r := range given {
		right := truth(r.proved())
		out.Brier += (r.Confidence - right) * (r.Confidence - right) / float64(len(given))
		wrong += 1 - right
		risk := wrong / float64(i+1)
		out.AURC += risk / float64(len(given))
		if i+1 == len(given) || given[i+1].Confidence < r.Confidence { // answers as sure as each other come together
			out.Risk = append(out.Risk, Risk{r.Confidence, round(float64(i+1) / float64(len(records))), round(risk)})
		}
	}
	out.bin(given)
	out.Brier, out.AURC, out.ECE = round(out.Brier), round(out.AURC), round(out.ECE)
	return out
}

// bin fills in the bins and the error over them.
func (c *Calibration) bin(given []*Record) {
	for b := range bins {
		bin := Bin{From: float64(b) / bins}
		for _, r := range given {
			if min(bins-1, int(r.Confidence*bins)) == b {
				bin.Answers++
				bin.Confidence += r.Confidence
				bin.Right += truth(r.proved())
			}
		}
		if bin.Answers == 0 {
			continue
		}
		n := float64(bin.Answers)
		bin.Confidence, bin.Right = round(bin.Confidence/n), round(bin.Right/n)
		c.ECE += n / float64(len(given)) * max(bin.Confidence-bin.Right, bin.Right-bin.Confidence)
		c.Bins = append(c.Bins, bin)
	}
}
