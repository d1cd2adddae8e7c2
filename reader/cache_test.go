package reader

import (
	"context"
	"reflect"
	"sync"
	"testing"

	"jardinet/passage"
)

// said makes a passage of one sentence.
func said(text string) *passage.Passage {
	return &passage.Passage{Text: text, Language: "en", Sentences: []passage.Sentence{{End: len(text)}}}
}

func TestReadingsAreRemembered(t *testing.T) {
	r, err := Open(english)
	if err != nil {
		t.Fatal(err)
	}
	texts := []Text{{"Gate", said("The gate is shut at six.")}, {"Bread", said("Bread is baked at four.")}}
	first, err := r.Read(t.Context(), "When is the gate shut?", texts)
	if err != nil {
		t.Fatal(err)
	}
	if n := r.memory.order.Len(); n != 2 {
		t.Fatalf("%d readings are remembered", n)
	}
	texts[1].Passage = said("Bread is baked at five.") // a new version of the document
	again, err := r.Read(t.Context(), "When is the gate shut?", texts)
	if err != nil {
		t.Fatal(err)
	}
	if !reflect.DeepEqual(first[0], again[0]) || r.memory.order.Len() != 3 {
		t.Errorf("what did not change is read as %+v, then as %+v; %d are remembered", first[0], again[0], r.memory.order.Len())
	}
	if _, err := r.Read(t.Context(), "Who shuts the gate?", texts[:1]); err != nil || r.memory.order.Len() != 4 {
		t.Errorf("another question: %d are remembered, error %v", r.memory.order.Len(), err)
	}
}

func TestKeys(t *testing.T) {
	seen := map[key]string{}
	for name, k := range map[string]key{
		"one":             keyOf("a", Text{"b", said("c")}),
		"other question":  keyOf("ab", Text{"", said("c")}),
		"other heading":   keyOf("a", Text{"bc", said("")}),
		"other sentences": keyOf("a", Text{"b", &passage.Passage{Text: "c"}}),
	} {
		if other, ok := seen[k]; ok {
			t.Errorf("%s has the key of %s", name, other)
		}
		seen[k] = name
	}
}

func TestMemoryForgetsWhatWasNotUsed(t *testing.T) {
	var m memory
	for i := range mostRemembered + 10 {
		m.put(key{byte(i), byte(i >> 8)}, Reading{Relevance: float64(i)})
		m.get(key{}) // the first is used all the time
	}
	if _, ok := m.get(key{}); !ok || m.order.Len() != mostRemembered || len(m.at) != mostRemembered {
		t.Errorf("the one in use is there: %t; %d are remembered", ok, m.order.Len())
	}
	if _, ok := m.get(key{1}); ok {
		t.Error("the one that was used last long ago is remembered")
	}
}

// Those who read at once take turns; one who gives up while waiting does not hold up the
// others.
func TestTurns(t *testing.T) {
	r, err := Open(english)
	if err != nil {
		t.Fatal(err)
	}
	r.turn <- struct{}{} // somebody reads
	ctx, cancel := context.WithCancel(t.Context())
	var waiting sync.WaitGroup
	waiting.Go(func() {
		if _, err := r.Read(ctx, "When?", []Text{{"Gate", said("At six.")}}); err == nil {
			t.Error("a cancelled reading has a result")
		}
	})
	cancel()
	waiting.Wait()
	for i := range 3 {
		waiting.Go(func() {
			if got, err := r.Read(t.Context(), "When?", []Text{{"Gate", said("At " + string(rune('1'+i)) + ".")}}); err != nil || len(got) != 1 {
				t.Errorf("reading %d: %v", i, err)
			}
		})
	}
	<-r.turn
	waiting.Wait()
}

// TestAnew reads with a reader that remembers nothing and leaves the other's memory alone.
func TestAnew(t *testing.T) {
	r := English()
	texts := []Text{{"Gates", said("The gate is shut at six.")}}
	before, err := r.Read(t.Context(), "When is the gate shut, really?", texts)
	if err != nil {
		t.Fatal(err)
	}
	n := r.memory.order.Len()
	again, err := r.Anew().Read(t.Context(), "When is the gate shut, really?", texts)
	if err != nil || again[0].Relevance != before[0].Relevance {
		t.Errorf("read anew it is %v, not %v; error %v", again, before, err)
	}
	if r.memory.order.Len() != n {
		t.Error("reading anew changes what is remembered")
	}
}
