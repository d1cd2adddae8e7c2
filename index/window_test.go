package index

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"sync/atomic"
	"testing"

	"jardinet/text"
)

// made3 spells a number as a word that no stemmer touches.
func made3(n int) string {
	const letters = "bcdfghjklm"
	return string([]byte{'x', letters[n/100%10], letters[n/10%10], letters[n%10]})
}

// zipf makes documents of passages whose words are as unevenly frequent as those of
// language.
func zipf(random *rand.Rand, documents, passages int) []Document {
	word := func() string { return made3(int(400 * math.Pow(random.Float64(), 3))) }
	var out []Document
	for i := range documents {
		d := Document{Key: fmt.Sprintf("d%02d", i)}
		for range passages {
			var body []string
			for range 4 + random.IntN(20) {
				body = append(body, word())
			}
			d.Passages = append(d.Passages, Passage{Heading: word(), Body: strings.Join(body, " "), Language: "en"})
		}
		out = append(out, d)
	}
	return out
}

// exhaustive scores every passage by the formula, by words and by like words too.
func exhaustive(docs []Document, gone map[string]bool, q *Query, total stats) []Hit {
	stemmer := text.NewStemmer("en")
	average := total.averages()
	count := func(s string) (map[string]int, int) {
		out, n := map[string]int{}, 0
		for _, t := range text.Tokens(s) {
			out[stemmer.Stem(t.Word)]++
			n++
		}
		return out, n
	}
	var out []Hit
	for _, d := range docs {
		for i, p := range d.Passages {
			heading, inHeading := count(p.Heading)
			body, inBody := count(p.Body)
			weight := func(form string) float64 {
				return float64(body[form])*average.body(inBody) + headingWeight*float64(heading[form])*average.heading(inHeading)
			}
			h := Hit{Key: d.Key, Ordinal: i}
			found := !gone[d.Key]
			for _, t := range q.Terms {
				exact, like := 0.0, 0.0
				for _, f := range t.Forms {
					exact += weight(f)
				}
				for _, a := range t.Expansions {
					like += a.Counts * weight(a.Form)
				}
				if t.Not && exact > 0 || t.Must && exact == 0 {
					found = false
				}
				if !t.Not {
					h.Score += gain(t.IDF*t.Weight, exact)
					h.Expanded += gain(t.IDF*t.Weight, exact+like)
				}
			}
			if found && h.Expanded > 0 {
				out = append(out, h)
			}
		}
	}
	return out
}

// TestPruningLosesNothing compares searches with the scores of all passages, in
// indexes large enough for windows to be left out and for several goroutines.
func TestPruningLosesNothing(t *testing.T) {
	random := rand.New(rand.NewPCG(11, 4))
	docs := zipf(random, 24, 900)
	x := open(t, t.TempDir())
	apply(t, x, docs[:12])
	apply(t, x, docs[12:15])
	apply(t, x, docs[15:])
	apply(t, x, nil, "d03", "d20")
	gone := map[string]bool{"d03": true, "d20": true}
	term := func() string { return made3(int(400 * math.Pow(random.Float64(), 1.5))) }
	for round := range 30 {
		var q Query
		for range 1 + random.IntN(4) {
			next := Term{Word: term(), Weight: []float64{1, 1, 0.25}[random.IntN(3)]}
			next.Forms = []string{next.Word}
			for range random.IntN(4) {
				next.Expansions = append(next.Expansions, Expansion{Form: term(), Weight: 0.2 + 0.6*random.Float64()})
			}
			switch random.IntN(8) {
			case 0:
				next.Must = true
			case 1:
				next.Not, next.Expansions = true, nil
			}
			q.Terms = append(q.Terms, next)
		}
		top := []int{1, 10, 60}[random.IntN(3)]
		got, err := x.Search(t.Context(), &q, top)
		if err != nil {
			t.Fatal(err)
		}
		all := exhaustive(docs, gone, &q, x.current.Load().stats)
		for kind, by := range []func(h *Hit) float64{func(h *Hit) float64 { return h.Score }, func(h *Hit) float64 { return h.Expanded }} {
			want := slices.DeleteFunc(slices.Clone(all), func(h Hit) bool { return by(&h) == 0 })
			less := func(a, b Hit) int {
				return cmp.Or(cmp.Compare(by(&b), by(&a)), cmp.Compare(a.Key, b.Key), cmp.Compare(a.Ordinal, b.Ordinal))
			}
			slices.SortFunc(want, less)
			if kind == 1 && !slices.ContainsFunc(q.Terms, func(t Term) bool { return len(t.Expansions) > 0 }) {
				continue
			}
			// Sums in another order differ in their last bit, so what is equal but for
			// that may change places; the scores must not.
			have := slices.Clone(got)
			slices.SortFunc(have, less)
			for i := range min(top, len(want)) {
				if i >= len(have) || math.Abs(by(&have[i])-by(&want[i])) > 1e-9 {
					t.Fatalf("round %d, kind %d, %d wanted of %d: place %d of %d differs: want %+v", round, kind, top, len(want), i+1, len(have), want[i])
				}
			}
		}
	}
}

// A counted context ends after it was asked so many times.
type counted struct {
	context.Context
	left atomic.Int64
}

func (c *counted) Err() error {
	if c.left.Add(-1) < 0 {
		return context.DeadlineExceeded
	}
	return nil
}

// A deadline is noticed between windows, so that a search ends soon after it.
func TestSearchEndsWithItsContext(t *testing.T) {
	x := open(t, t.TempDir())
	apply(t, x, zipf(rand.New(rand.NewPCG(2, 2)), 4, 3000))
	ctx := &counted{Context: t.Context()}
	ctx.left.Store(5)
	q := Query{Terms: []Term{{Word: made3(1), Forms: []string{made3(1)}, Weight: 1}}}
	if _, err := x.Search(ctx, &q, 10); err == nil {
		t.Fatal("a search whose context ended has a result")
	}
	if over := -ctx.left.Load(); over > 8 {
		t.Errorf("it looked %d times more at a context that had ended", over)
	}
}
