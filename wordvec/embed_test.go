package wordvec

import (
	"bytes"
	"math"
	"slices"
	"testing"
	"time"

	"jardinet/text"
)

func tiny() []byte {
	return Encode([]string{"de:pumpe", "fern", "palm", "pump", "valve"}, []float32{0.6, 0.8, 2, 0, 0, 1, 0.6, 0.8, 1, 1}, 2, []byte(`{"sources":[]}`))
}

func decode(t *testing.T, data []byte) *Model {
	t.Helper()
	m, err := Decode(data)
	if err != nil {
		t.Fatal(err)
	}
	return m
}

func TestEncodeDecode(t *testing.T) {
	m := decode(t, tiny())
	if m.Words() != 5 || m.Dimensions != 2 || string(m.Provenance) != `{"sources":[]}` {
		t.Fatalf("the model is %+v", m)
	}
	for _, test := range []struct {
		a, b string
		want float64
	}{{"fern", "fern", 1}, {"fern", "palm", 0}, {"fern", "pump", 0.6}, {"palm", "pump", 0.8}} {
		if got := m.Similarity(m.Find(test.a, "en"), m.Find(test.b, "en")); math.Abs(got-test.want) > 0.01 {
			t.Errorf("%s and %s are alike by %.3f, want %.1f", test.a, test.b, got, test.want)
		}
	}
	if m.Find("tiger", "en") != -1 {
		t.Error("a word was found that is not there")
	}
	if fern, palm := m.Weight(m.Find("fern", "en")), m.Weight(m.Find("palm", "en")); math.Abs(float64(fern/palm)-2) > 0.01 {
		t.Errorf("fern tells %g, palm %g", fern, palm)
	}
	if !bytes.Equal(tiny(), tiny()) {
		t.Error("the same model is written in two ways")
	}
}

func TestLanguages(t *testing.T) {
	m := decode(t, tiny())
	if german, english := m.Find("pumpe", "de"), m.Find("pumpe", "en"); german < 0 || english >= 0 {
		t.Errorf("pumpe is %d in German, %d in English", german, english)
	}
	if m.Find("valve", "de") != m.Find("valve", "en") {
		t.Error("an English word in a German text is not known")
	}
	for name, want := range map[string]text.Language{"de:pumpe": "de", "pump": "en"} {
		if got := LanguageOf(name); got != want {
			t.Errorf("%s is %s", name, got)
		}
	}
}

func TestParts(t *testing.T) {
	m := decode(t, tiny())
	for _, test := range []struct {
		word     string
		language text.Language
		want     []string
	}{
		{"valves", "en", []string{"valve"}},
		{"palmpump", "en", []string{"palm", "pump"}},
		{"palmenpumpe", "de", []string{"palm", "de:pumpe"}},
		{"qx7", "en", nil},
		{"pa", "en", nil},
		{"unheard", "en", nil},
	} {
		var got []string
		for _, i := range m.Parts(test.word, test.language) {
			got = append(got, m.words[i])
		}
		if !slices.Equal(got, test.want) {
			t.Errorf("%s is made of %v, want %v", test.word, got, test.want)
		}
	}
}

func TestEmbedSumsWords(t *testing.T) {
	e := decode(t, tiny()).NewEmbedder()
	sum := make([]float32, 2)
	e.Embed(sum, text.Tokens("Fern and palm."), "en")
	if math.Abs(float64(sum[0])-2) > 0.02 || math.Abs(float64(sum[1])-1) > 0.02 {
		t.Errorf("the sum is %v", sum)
	}
	tokens := text.Tokens("fern palm palms 12 unheard valves")
	e.Embed(sum, tokens, "en")
	if n := testing.AllocsPerRun(100, func() { e.Embed(sum, tokens, "en") }); n > 0 {
		t.Errorf("%g allocations a passage", n)
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

// TestDefault holds the model that comes with the program to what it is for:
// words of like meaning near each other, in three languages.
func TestDefault(t *testing.T) {
	start := time.Now()
	m := Default()
	if took := time.Since(start); took > time.Second {
		t.Errorf("loading took %s", took)
	}
	if len(words) > 8<<20 {
		t.Errorf("the model has %d bytes, the limit is 8 MiB", len(words))
	}
	like := func(a, b string) float64 {
		x, y := LanguageOf(a), LanguageOf(b)
		return m.Similarity(m.Find(bare(a), x), m.Find(bare(b), y))
	}
	for _, test := range [][3]string{
		{"salary", "wage", "colour"}, {"delete", "remove", "palm"}, {"doctor", "physician", "axis"}, {"furnace", "kiln", "password"},
		{"delete", "de:loschen", "de:farbe"}, {"print", "fr:imprimer", "fr:tableau"},
	} {
		if near, far := like(test[0], test[1]), like(test[0], test[2]); near < far+0.2 {
			t.Errorf("%s is like %s by %.2f and like %s by %.2f", test[0], test[1], near, test[2], far)
		}
	}
}

func bare(name string) string {
	if len(name) > 3 && name[2] == ':' {
		return name[3:]
	}
	return name
}

func BenchmarkDecode(b *testing.B) {
	for b.Loop() {
		if _, err := Decode(words); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkEmbed(b *testing.B) {
	e := Default().NewEmbedder()
	tokens := text.Tokens("The duty officer closes the valve of the boiler and writes the reading into the humidity log before the gates are opened to visitors, " +
		"unless the storm warning is given, in which case the vents are shut by hand and the heating is switched to the reserve pump in the palm house.")
	tokens = slices.Concat(tokens, tokens, tokens)
	sum := make([]float32, e.Dimensions)
	b.ReportAllocs()
	for b.Loop() {
		e.Embed(sum, tokens, "en")
	}
	b.ReportMetric(float64(len(tokens)), "words/op")
}

func TestNearestRowsOfTwoWords(t *testing.T) {
	m := Default()
	dog, cat, pay := int32(m.Find("dog", "en")), int32(m.Find("cat", "en")), int32(m.Find("pay", "en"))
	if got, want := m.Nearest([]int32{pay, dog}, []int32{cat}), m.Similarity(int(dog), int(cat)); got != want {
		t.Errorf("the nearest is %.3f, want %.3f", got, want)
	}
	if got := m.Nearest(nil, []int32{cat}); got != 0 {
		t.Errorf("of nothing it is %.3f", got)
	}
}
