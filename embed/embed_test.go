package embed

import (
	"bytes"
	"math"
	"testing"
)

func tiny() []byte {
	return Encode([]string{"fern", "palm", "pump"}, []int{10, 20, 30}, []float32{1, 0, 0, 1, 0.6, 0.8}, 2, []byte(`{"sources":[]}`))
}

func TestEncodeDecode(t *testing.T) {
	m, err := Decode(tiny())
	if err != nil {
		t.Fatal(err)
	}
	if m.Words() != 3 || m.Dimensions != 2 || string(m.Provenance) != `{"sources":[]}` {
		t.Fatalf("the model is %+v", m)
	}
	for _, test := range []struct {
		a, b string
		want float64
	}{{"fern", "fern", 1}, {"fern", "palm", 0}, {"fern", "pump", 0.6}, {"palm", "pump", 0.8}} {
		if got := m.Similarity(m.Find(test.a), m.Find(test.b)); math.Abs(got-test.want) > 0.01 {
			t.Errorf("%s and %s are alike by %.3f, want %.1f", test.a, test.b, got, test.want)
		}
	}
	if m.Find("tiger") != -1 {
		t.Error("a word was found that is not there")
	}
	if !bytes.Equal(tiny(), tiny()) {
		t.Error("the same model is written in two ways")
	}
}

func TestAddWeighsRareWordsMore(t *testing.T) {
	m, err := Decode(tiny())
	if err != nil {
		t.Fatal(err)
	}
	rare, common := make([]float32, 2), make([]float32, 2)
	m.Add(rare, m.Find("fern"))
	m.Add(common, m.Find("palm"))
	if rare[0] <= common[1] {
		t.Errorf("the rarer word counts %g, the other %g", rare[0], common[1])
	}
	if n := testing.AllocsPerRun(100, func() { m.Add(rare, 0); m.Find("palm"); m.Similarity(0, 1) }); n > 0 {
		t.Errorf("%g allocations a word", n)
	}
}

func TestDamagedModel(t *testing.T) {
	good := tiny()
	for n := range len(good) {
		if _, err := Decode(good[:n]); err == nil {
			t.Errorf("%d of %d bytes are a model", n, len(good))
		}
	}
	bad := bytes.Clone(good)
	bad[8] = 200
	if _, err := Decode(bad); err == nil {
		t.Error("a model with a wrong count was read")
	}
}
