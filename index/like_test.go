package index

import (
	"errors"
	"math"
	"testing"
)

// A word that is nowhere is as rare as those like it are on the average, whatever
// the parts of phrases are; how many are like it must not make it common.
func TestWordsThatAreNowhere(t *testing.T) {
	x := open(t, t.TempDir())
	apply(t, x, []Document{doc("a", "storm", "wind", "wind", "house", "house", "house", "house", "fog")})
	idf := func(likes ...Expansion) float64 {
		q := x.Parse("gale")
		q.Terms[0].Expansions = likes
		if _, err := x.Search(t.Context(), &q, 1); err != nil {
			t.Fatal(err)
		}
		return q.Terms[0].IDF
	}
	one := idf(Expansion{Form: "storm", Weight: 0.7})
	two := idf(Expansion{Form: "wind", Weight: 0.7})
	if one <= two {
		t.Errorf("like a rare word %.2f, like a common one %.2f", one, two)
	}
	if both, want := idf(Expansion{Form: "storm", Weight: 0.7}, Expansion{Form: "wind", Weight: 0.35}), (2*one+two)/3; math.Abs(both-want) > 1e-9 {
		t.Errorf("like both %.4f, not %.4f", both, want)
	}
	if with := idf(Expansion{Form: "storm", Weight: 0.7}, Expansion{Form: "house", Weight: 0.5, Part: true}); with != one {
		t.Errorf("with a part of a phrase %.4f, without %.4f", with, one)
	}
	if nothing, unknown := idf(), idf(Expansion{Form: "zeppelin", Weight: 0.7}); nothing != unknown || nothing <= one {
		t.Errorf("like nothing %.4f, like what is nowhere %.4f, like a rare word %.4f", nothing, unknown, one)
	}
}

// A word of like meaning that is commoner than the one asked counts for less.
func TestCommonLikesCountForLess(t *testing.T) {
	x := open(t, t.TempDir())
	apply(t, x, []Document{doc("a", "gift", "take", "take", "take", "take", "present", "present", "fog")})
	q := x.Parse("present")
	q.Terms[0].Expansions = []Expansion{{Form: "gift", Weight: 0.7}, {Form: "take", Weight: 0.7}}
	if _, err := x.Search(t.Context(), &q, 1); err != nil {
		t.Fatal(err)
	}
	if rare, common := q.Terms[0].Expansions[0].Counts, q.Terms[0].Expansions[1].Counts; rare != 0.7 || common >= rare || common <= 0 {
		t.Errorf("a rarer word weighs %.2f, a commoner one %.2f", rare, common)
	}
}

func TestDocumentInOrder(t *testing.T) {
	x := open(t, t.TempDir())
	apply(t, x, []Document{doc("a", "one", "two", "three")})
	var got []string
	visit := func(ordinal int, stored []byte) error {
		if ordinal != len(got) {
			t.Errorf("passage %d comes as number %d", ordinal, len(got))
		}
		got = append(got, string(stored))
		return nil
	}
	if err := x.Document("a", visit); err != nil || len(got) != 3 {
		t.Errorf("visited %q, error %v", got, err)
	}
	if err := x.Document("none", visit); err != nil || len(got) != 3 {
		t.Errorf("a document that is not there: %q, error %v", got, err)
	}
	stop := errors.New("stop")
	if err := x.Document("a", func(int, []byte) error { return stop }); !errors.Is(err, stop) {
		t.Errorf("the visit's error is %v", err)
	}
}
