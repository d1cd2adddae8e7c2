package encoder

import (
	"math"
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/unicode/norm"
)

// A unigram cuts a text into the pieces that are together the most likely, each having a
// likelihood of its own (Kudo 2018). A space is a letter of the piece after it.
type unigram struct {
	pieces  map[string]int32
	scores  []float32
	longest int // bytes of a piece
	unknown int32
	bad     float64 // score of a character that no piece has
}

// space stands for a space in pieces.
const space = "▁"

// unknownBy is how much less likely than any piece an unknown character is.
const unknownBy = 10

func newUnigram(pieces []string, scores []float32, unknown int32) *unigram {
	t := &unigram{pieces: make(map[string]int32, len(pieces)), scores: scores, unknown: unknown}
	lowest := float32(math.MaxFloat32)
	for i, p := range pieces {
		t.pieces[p] = int32(i)
		t.longest = max(t.longest, len(p))
		lowest = min(lowest, scores[i])
	}
	t.bad = float64(lowest) - unknownBy
	return t
}

func (t *unigram) appendPieces(to []int32, s string, most int) []int32 {
	s = t.normal(s)
	if s == "" {
		return to
	}
	// Nothing beyond so many bytes can be among the pieces wanted.
	if limit := (most + 1) * t.longest; len(s) > limit {
		for limit > 0 && !utf8.RuneStart(s[limit]) {
			limit--
		}
		s = s[:limit]
	}
	path := t.best(s)
	for i := len(path) - 1; i >= 0 && len(to) < most; i-- {
		if path[i] == t.unknown && i+1 < len(path) && path[i+1] == t.unknown {
			continue // unknown characters side by side are one
		}
		to = append(to, path[i])
	}
	return to
}

// normal returns a text with one mark for each run of spaces, and one before it.
func (t *unigram) normal(s string) string {
	var out strings.Builder
	out.Grow(len(s) + 16)
	gap := true
	for _, r := range norm.NFKC.String(s) {
		if unicode.IsSpace(r) {
			gap = true
			continue
		}
		if gap {
			out.WriteString(space)
			gap = false
		}
		out.WriteRune(r)
	}
	return out.String()
}

// best returns the numbers of the likeliest pieces, the last first (Viterbi 1967).
func (t *unigram) best(s string) []int32 {
	type step struct {
		score float64
		from  int
		id    int32
	}
	steps := make([]step, len(s)+1)
	for i := range steps {
		steps[i].score = math.Inf(-1)
	}
	steps[0].score = 0
	for at, r := range s {
		one := utf8.RuneLen(r)
		if r == utf8.RuneError {
			_, one = utf8.DecodeRuneInString(s[at:])
		}
		single := false
		for n := 1; n <= t.longest && at+n <= len(s); n++ {
			id, ok := t.pieces[s[at:at+n]]
			if !ok || id == t.unknown {
				continue
			}
			single = single || n == one
			if score := steps[at].score + float64(t.scores[id]); score > steps[at+n].score {
				steps[at+n] = step{score, at, id}
			}
		}
		if score := steps[at].score + t.bad; !single && score > steps[at+one].score {
			steps[at+one] = step{score, at, t.unknown}
		}
	}
	var out []int32
	for at := len(s); at > 0; at = steps[at].from {
		out = append(out, steps[at].id)
	}
	return out
}
