package measure

import (
	"cmp"
	"fmt"
	"math/rand/v2"
	"slices"

	"gonum.org/v1/gonum/stat/distuv"
)

// A Comparison sets two measurements of the same questions side by side, question by question.
type Comparison struct {
	A         string              `json:"a"` // measurement ids; b is compared with a
	B         string              `json:"b"`
	Questions int                 `json:"questions"` // in both, in the same words
	OnlyA     int                 `json:"only_a"`    // left out
	OnlyB     int                 `json:"only_b"`
	Figures   []Change            `json:"figures"`
	ByTag     map[string][]Change `json:"by_tag"`
	Better    []Pair              `json:"better"` // failed in a and succeeded in b
	Worse     []Pair              `json:"worse"`
	// McNemar is the probability that as unequal numbers got better and worse though both
	// set-ups are as good as each other (exact; McNemar, 1947).
	McNemar float64 `json:"mcnemar_p"`
	// Causes tells how many questions were lost where in a and in b.
	Causes []CauseChange `json:"causes"`
}

// A Change is a figure in both measurements.
type Change struct {
	Name       string  `json:"name"`
	A          float64 `json:"a"`
	B          float64 `json:"b"`
	Difference float64 `json:"difference"` // b - a
	Low        float64 `json:"low"`        // of its 95 % interval
	High       float64 `json:"high"`
	// P is the probability of so large a difference if it were chance which of the two
	// measurements each question's outcomes are of (paired randomisation test; Fisher, 1935).
	P         float64 `json:"p"`
	Questions int     `json:"questions"`
	Better    bool    `json:"better"` // significantly so
	Worse     bool    `json:"worse"`
}

// A Pair is one question in both.
type Pair struct {
	ID       string `json:"id"`
	Question string `json:"question"`
	A        Side   `json:"a"`
	B        Side   `json:"b"`
}

// A Side is what one of the measurements has of a question.
type Side struct {
	Outcome    string  `json:"outcome"`
	Cause      Cause   `json:"cause,omitempty"`
	Answer     string  `json:"answer"`
	Confidence float64 `json:"confidence"`
	Rank       int     `json:"rank"`
}

// A CauseChange is how many questions were lost at one place.
type CauseChange struct {
	Cause Cause `json:"cause"`
	A     int   `json:"a"`
	B     int   `json:"b"`
}

// Significant is the probability below which a difference is called one.
const Significant = 0.05

// swaps is how many times outcomes are exchanged by chance.
const swaps = 10_000

// Compare compares measurement b with a. Only questions that are in both in the same words count.
func Compare(a, b *Measurement) (*Comparison, error) {
	out := &Comparison{A: a.ID, B: b.ID, ByTag: map[string][]Change{}, Better: []Pair{}, Worse: []Pair{}, Causes: []CauseChange{}}
	x, y := matched(a, b)
	if out.Questions = len(x); out.Questions == 0 {
		return nil, fmt.Errorf("the measurements %s and %s have no question in common; measure both with the same set", a.ID, b.ID)
	}
	out.OnlyA, out.OnlyB = len(a.Records)-len(x), len(b.Records)-len(y)
	out.Figures = changes(x, y)
	byTag := map[string][2][]Record{}
	for i := range x {
		for _, tag := range x[i].Tags {
			both := byTag[tag]
			byTag[tag] = [2][]Record{append(both[0], x[i]), append(both[1], y[i])}
		}
		switch was, is := x[i].Succeeded(), y[i].Succeeded(); {
		case is && !was:
			out.Better = append(out.Better, pair(&x[i], &y[i]))
		case was && !is:
			out.Worse = append(out.Worse, pair(&x[i], &y[i]))
		}
	}
	for tag, both := range byTag {
		out.ByTag[tag] = changes(both[0], both[1])
	}
	out.McNemar = McNemar(len(out.Better), len(out.Worse))
	for _, c := range Causes {
		n := CauseChange{Cause: c}
		for i := range x {
			n.A, n.B = n.A+int(truth(x[i].Cause == c)), n.B+int(truth(y[i].Cause == c))
		}
		if n.A+n.B > 0 {
			out.Causes = append(out.Causes, n)
		}
	}
	return out, nil
}

// matched returns the records of the questions in both, in the same order.
func matched(a, b *Measurement) (x, y []Record) {
	of := map[string]Record{}
	for _, r := range b.Records {
		of[r.ID] = r
	}
	for _, r := range a.Records {
		if other, ok := of[r.ID]; ok && other.Question == r.Question {
			x, y = append(x, r), append(y, other)
		}
	}
	return x, y
}

func pair(a, b *Record) Pair {
	side := func(r *Record) Side { return Side{r.Outcome, r.Cause, r.Answer, r.Confidence, r.Rank} }
	return Pair{a.ID, a.Question, side(a), side(b)}
}

// changes compares every figure that both have.
func changes(a, b []Record) []Change {
	out := []Change{}
	for _, k := range kinds {
		if c, ok := k.change(a, b); ok {
			out = append(out, c)
		}
	}
	return out
}

// CompareFigure compares one figure, by its key, of two runs over the same questions in the same order.
func CompareFigure(key string, a, b []Record) (Change, error) {
	k, err := kindOf(key)
	if err != nil {
		return Change{}, err
	}
	if len(a) != len(b) {
		return Change{}, fmt.Errorf("%d questions cannot be compared with %d", len(a), len(b))
	}
	c, _ := k.change(a, b)
	return c, nil
}

// change compares one figure. A question counts where it does in either measurement.
func (k kind) change(a, b []Record) (Change, bool) {
	var x, y []sample
	for i := range a {
		v, w := k.of(&a[i])
		u, z := k.of(&b[i])
		if w > 0 || z > 0 {
			x, y = append(x, sample{v, w, a[i].document()}), append(y, sample{u, z, b[i].document()})
		}
	}
	if len(x) == 0 {
		return Change{}, false
	}
	every := all(len(x))
	c := Change{Name: k.name, A: round(mean(x, every)), B: round(mean(y, every)), Questions: len(x)}
	c.Difference = round(mean(y, every) - mean(x, every))
	c.Low, c.High = interval(x, func(pick []int) float64 { return mean(y, pick) - mean(x, pick) })
	c.P = randomisation(x, y)
	if c.P < Significant {
		c.Better = k.less == (c.Difference < 0)
		c.Worse = !c.Better
	}
	return c, true
}

// randomisation returns how often the difference of the means is at least as large as it is
// when each pair changes sides by chance.
func randomisation(x, y []sample) float64 {
	type sums struct{ value, weight float64 }
	difference := func(a, b sums) float64 {
		return b.value/cmp.Or(b.weight, 1) - a.value/cmp.Or(a.weight, 1)
	}
	var a, b sums
	var unequal []int // the others change nothing
	for i := range x {
		a = sums{a.value + x[i].value*x[i].weight, a.weight + x[i].weight}
		b = sums{b.value + y[i].value*y[i].weight, b.weight + y[i].weight}
		if x[i].value != y[i].value || x[i].weight != y[i].weight {
			unequal = append(unequal, i)
		}
	}
	observed := difference(a, b)
	random := rand.New(rand.NewPCG(uint64(len(x)), 1935))
	as := 1 // what was observed is one of the ways
	for range swaps {
		p, q := a, b
		for _, i := range unequal {
			if random.Uint64()&1 == 0 {
				continue
			}
			v, w := y[i].value*y[i].weight-x[i].value*x[i].weight, y[i].weight-x[i].weight
			p, q = sums{p.value + v, p.weight + w}, sums{q.value - v, q.weight - w}
		}
		if d := difference(p, q); max(d, -d) >= max(observed, -observed)-1e-12 {
			as++
		}
	}
	return round(float64(as) / (swaps + 1))
}

// McNemar returns the two-sided exact probability of so unequal a split of the questions that
// changed, if each were as likely to get better as worse.
func McNemar(better, worse int) float64 {
	if better == worse {
		return 1
	}
	half := distuv.Binomial{N: float64(better + worse), P: 0.5}
	return round(min(1, 2*half.CDF(float64(min(better, worse)))))
}

// Weakest returns the tag whose questions most often fail, of those with at least so many.
func (m *Measurement) Weakest(least int) (tag string, share float64, questions int) {
	share = 2
	failed, of := map[string]int{}, map[string]int{}
	for i := range m.Records {
		for _, t := range m.Records[i].Tags {
			of[t]++
			failed[t] += 1 - int(truth(m.Records[i].Succeeded()))
		}
	}
	names := []string{}
	for t := range of {
		names = append(names, t)
	}
	slices.Sort(names)
	for _, t := range names {
		if right := 1 - float64(failed[t])/float64(of[t]); of[t] >= least && right < share {
			tag, share, questions = t, round(right), of[t]
		}
	}
	return tag, share, questions
}
