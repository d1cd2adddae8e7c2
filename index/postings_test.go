package index

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
)

func TestPackedNumbersComeBack(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 1))
	for w := range byte(33) {
		for _, n := range []int{1, 7, 8, 9, 100, 127, 128} {
			values := make([]uint32, n)
			for i := range values {
				values[i] = uint32(random.Uint64() & (1<<w - 1))
			}
			data := appendPacked([]byte{0xff}, values, w)[1:]
			if len(data) != packedSize(n, w) {
				t.Fatalf("%d numbers of %d bits take %d bytes, want %d", n, w, len(data), packedSize(n, w))
			}
			got := make([]uint32, n)
			if !unpack(got, append(data, 0xff, 0xff, 0xff), w) || !slices.Equal(got, values) {
				t.Fatalf("%d numbers of %d bits: %v, want %v", n, w, got, values)
			}
			if !unpack(got, data, w) || !slices.Equal(got, values) {
				t.Fatalf("%d numbers of %d bits, nothing after them: %v, want %v", n, w, got, values)
			}
			if len(data) > 0 && unpack(got, data[:len(data)-1], w) {
				t.Fatalf("%d numbers of %d bits are read from too few bytes", n, w)
			}
		}
	}
	if unpack(make([]uint32, 1), make([]byte, 99), 33) {
		t.Error("33 bits are read")
	}
}

func TestWidth(t *testing.T) {
	for want, values := range map[byte][]uint32{0: {0, 0}, 1: {1, 0}, 3: {4, 3}, 32: {1 << 31}} {
		if got := width(values); got != want {
			t.Errorf("%v takes %d bits, want %d", values, got, want)
		}
	}
}

// scattered makes a segment in which a term stands in a share of the passages.
func scattered(t testing.TB, passages int, share float64) (*segment, []posting) {
	t.Helper()
	random := rand.New(rand.NewPCG(uint64(passages), uint64(100*share)))
	d := Document{Key: "d"}
	var want []posting
	for i := range passages {
		p := Passage{Heading: "chapter", Body: "filler text", Language: "en"}
		for random.IntN(4) == 0 {
			p.Body += " more filler"
		}
		if random.Float64() < share {
			n := posting{passage: i, body: 1 + random.IntN(3)}
			for range n.body {
				p.Body += " zebra"
			}
			if random.IntN(5) == 0 {
				p.Heading += " zebra"
				n.heading = 1
			}
			want = append(want, n)
		}
		d.Passages = append(d.Passages, p)
	}
	x := open(t, t.TempDir())
	apply(t, x, []Document{d})
	return x.current.Load().segments[0], want
}

func TestCursors(t *testing.T) {
	for _, test := range []struct {
		passages int
		share    float64
	}{{50, 1}, {128, 1}, {129, 1}, {300, 0.5}, {3000, 0.9}, {20_000, 0.05}} {
		t.Run(fmt.Sprint(test), func(t *testing.T) {
			seg, want := scattered(t, test.passages, test.share)
			term := seg.find("zebra")
			var got []posting
			seg.each(term, func(p posting) bool { got = append(got, p); return true })
			if !slices.Equal(got, want) {
				t.Fatalf("%d postings come back, want %d", len(got), len(want))
			}
			random := rand.New(rand.NewPCG(5, 5))
			now := seg.stats.averages()
			c := new(cursor)
			c.open(seg.segmentData, term, &now)
			for from := 0; from < test.passages; from += 1 + random.IntN(1+test.passages/10) {
				at, _ := slices.BinarySearchFunc(want, from, func(p posting, passage int) int { return p.passage - passage })
				if found := c.seek(from); found != (at < len(want)) || found && int(c.passages[c.at]) != want[at].passage {
					t.Fatalf("seeking %d of %d: found %v", from, test.passages, found)
				}
			}
		})
	}
}

// TestBoundsHold wants no posting to weigh more than what the table says, also when
// the averages have changed since it was written.
func TestBoundsHold(t *testing.T) {
	seg, want := scattered(t, 4000, 0.6)
	for _, now := range []averages{seg.stats.averages(), {headingLength: 3, bodyLength: 40}, {headingLength: 1, bodyLength: 1}} {
		for from := 0; from < 4000; from += 333 {
			c := new(cursor)
			c.open(seg.segmentData, seg.find("zebra"), &now)
			c.seek(from)
			before := from + 200
			most := c.most(from, before) * slack
			for _, p := range want {
				heading, body := seg.length(p.passage)
				weight := float64(p.body)*now.body(body) + headingWeight*float64(p.heading)*now.heading(heading)
				if p.passage >= from && p.passage < before && weight > most {
					t.Fatalf("averages %v: passage %d weighs %.4f, more than %.4f", now, p.passage, weight, most)
				}
			}
		}
	}
}
