package encoder

import (
	"context"
	"encoding/binary"
	"encoding/json"
	"errors"
	"hash/crc32"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
)

// models are those that come with the program.
var models = []string{"english", "multilingual"}

func load(t testing.TB, name string) *Model {
	t.Helper()
	data, err := os.ReadFile(filepath.Join("..", "embed", name+".model"))
	if err != nil {
		t.Fatal(err)
	}
	m, err := Open(data)
	if err != nil {
		t.Fatal(err)
	}
	return m
}

func stringsIn(t *testing.T, file string) []string {
	t.Helper()
	data, err := os.ReadFile(filepath.Join("testdata", file))
	if err != nil {
		t.Fatal(err)
	}
	var out []string
	if err := json.Unmarshal(data, &out); err != nil {
		t.Fatal(err)
	}
	return out
}

// train/check.py wrote what the reference implementation makes of the texts.
func TestVectorsAgainstReference(t *testing.T) {
	texts := stringsIn(t, "texts.json")
	for _, name := range models {
		m := load(t, name)
		raw, err := os.ReadFile(filepath.Join("testdata", name+".vectors"))
		if err != nil {
			t.Fatal(err)
		}
		got, err := m.Encode(t.Context(), Passage, texts...)
		if err != nil {
			t.Fatal(err)
		}
		least, mean := 1.0, 0.0
		for i, v := range got {
			want := make([]float64, m.Dimensions)
			for k := range want {
				want[k] = float64(float16(binary.LittleEndian.Uint16(raw[2*(i*m.Dimensions+k):])))
			}
			c := cosineTo(v, want)
			least, mean = min(least, c), mean+c/float64(len(got))
		}
		t.Logf("%s: %d texts, cosine to the reference at least %.4f, on the average %.4f", name, len(got), least, mean)
		if least < 0.99 {
			t.Errorf("%s: the least cosine is %.4f", name, least)
		}
	}
}

func TestTokensAgainstReference(t *testing.T) {
	lines := append(stringsIn(t, "texts.json"), stringsIn(t, "lines.json")...)
	for _, name := range models {
		m := load(t, name)
		raw, err := os.ReadFile(filepath.Join("testdata", name+".tokens"))
		if err != nil {
			t.Fatal(err)
		}
		for i, line := range lines {
			var ids []byte
			for _, id := range m.Tokens(line) {
				ids = binary.LittleEndian.AppendUint32(ids, uint32(id))
			}
			if crc32.ChecksumIEEE(ids) != binary.LittleEndian.Uint32(raw[4*i:]) {
				t.Errorf("%s: %q is cut into %v", name, line, m.Tokens(line))
			}
		}
	}
}

func TestSameBitsOnEveryProcessor(t *testing.T) {
	texts := stringsIn(t, "texts.json")[:30]
	for _, name := range models {
		m := load(t, name)
		all := available()
		if len(all) < 3 {
			t.Skip("this processor has one kind of kernels beside the plain one")
		}
		var first [][]float32
		for _, k := range all[:len(all)-1] {
			m.kernels = k
			got, err := m.Encode(t.Context(), Passage, texts...)
			if err != nil {
				t.Fatal(err)
			}
			if first == nil {
				first = got
			}
			for i := range got {
				if !slices.Equal(got[i], first[i]) {
					t.Fatalf("%s: %s and %s give other bits for %q", name, k.name, all[0].name, texts[i])
				}
			}
		}
	}
}

// A float's last bit may turn a byte over, and layer after layer more of them.
func TestPlainKernelsComeNear(t *testing.T) {
	m := load(t, "english")
	texts := stringsIn(t, "texts.json")[:2]
	want, err := m.Encode(t.Context(), Passage, texts...)
	if err != nil {
		t.Fatal(err)
	}
	m.kernels = &plain
	got, err := m.Encode(t.Context(), Passage, texts...)
	if err != nil {
		t.Fatal(err)
	}
	for i := range got {
		wide := make([]float64, len(want[i]))
		for k, v := range want[i] {
			wide[k] = float64(v)
		}
		if c := cosineTo(got[i], wide); c < 0.995 {
			t.Errorf("%.40q: cosine %.5f", texts[i], c)
		}
	}
}

func TestCompanyChangesNothing(t *testing.T) {
	m := load(t, "english")
	texts := append(stringsIn(t, "texts.json")[:40], "", "seed", strings.Repeat("vault ", 400))
	together, err := m.Encode(t.Context(), Passage, texts...)
	if err != nil {
		t.Fatal(err)
	}
	var group sync.WaitGroup
	for i, text := range texts {
		group.Go(func() {
			alone, err := m.Encode(t.Context(), Passage, text)
			if err != nil || !slices.Equal(alone[0], together[i]) {
				t.Errorf("%.40q alone is another vector than in company (%v)", text, err)
			}
		})
	}
	group.Wait()
}

func TestCancelled(t *testing.T) {
	m := load(t, "english")
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	if _, err := m.Encode(ctx, Passage, stringsIn(t, "texts.json")...); !errors.Is(err, context.Canceled) {
		t.Errorf("cancelled, it says %v", err)
	}
}

func TestMeaningIsNearer(t *testing.T) {
	for _, c := range []struct{ model, question, near, far string }{
		{"english", "How long can seeds be left in the warm?", "Seed is never kept outside the vault for more than four hours.", "The café opens at nine."},
		{"multilingual", "À quelle heure ouvrent les serres ?", "The glasshouses open at ten in the morning.", "The boiler is tested every ninety days."},
		{"multilingual", "Wann öffnen die Gewächshäuser?", "The glasshouses open at ten in the morning.", "The boiler is tested every ninety days."},
	} {
		m := load(t, c.model)
		q, err := m.Encode(t.Context(), Query, c.question)
		if err != nil {
			t.Fatal(err)
		}
		v, err := m.Encode(t.Context(), Passage, c.near, c.far)
		if err != nil {
			t.Fatal(err)
		}
		if near, far := dot(q[0], v[0]), dot(q[0], v[1]); near <= far {
			t.Errorf("%s: %q is at %.3f to %q and %.3f to %q", c.model, c.question, near, c.near, far, c.far)
		}
	}
}

func dot(a, b []float32) float32 {
	sum := float32(0)
	for i, v := range a {
		sum += v * b[i]
	}
	return sum
}

func FuzzTokens(f *testing.F) {
	for _, s := range []string{"", "seed", "Überprüfung naïve", "\xff\xfe\x00", "漢字 ＡＢＣ ﬁ", "[SEP]▁<s>"} {
		f.Add(s)
	}
	var all []*Model
	for _, name := range models {
		all = append(all, load(f, name))
	}
	f.Fuzz(func(t *testing.T, s string) {
		for _, m := range all {
			ids := m.Tokens(s)
			if len(ids) < 2 || len(ids) > m.header.MostTokens || ids[0] != m.header.Special.Begin || ids[len(ids)-1] != m.header.Special.End {
				t.Errorf("%s: %q is cut into %v", m.Name, s, ids)
			}
			for _, id := range ids {
				if id < 0 || int(id)*m.Dimensions >= max(len(m.words.q8), 2*len(m.words.q4)) {
					t.Errorf("%s: %q has the piece %d", m.Name, s, id)
				}
			}
		}
	})
}

func BenchmarkPassages(b *testing.B) {
	text := strings.Repeat("The boiler of the Palm House is tested every ninety days by the duty engineer. ", 10)
	for _, name := range models {
		m := load(b, name)
		for _, k := range available()[:max(1, len(available())-1)] {
			m.kernels = k
			b.Run(name+"/"+k.name, func(b *testing.B) {
				texts := slices.Repeat([]string{text}, 32)
				for b.Loop() {
					if _, err := m.Encode(b.Context(), Passage, texts...); err != nil {
						b.Fatal(err)
					}
				}
				b.ReportMetric(float64(b.N*len(texts))/b.Elapsed().Seconds(), "passages/s")
			})
		}
	}
}

func BenchmarkQuestion(b *testing.B) {
	for _, name := range models {
		m := load(b, name)
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				if _, err := m.Encode(b.Context(), Query, "How long may seed stay out of the vault before it has to be tested?"); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
