package store

import (
	"fmt"
	"slices"
	"testing"
)

func TestVectorsAreKeptByEncoderAndText(t *testing.T) {
	s := open(t, t.TempDir())
	want := map[VectorKey][]int8{}
	var keys []VectorKey
	for i := range keysAtATime + 3 { // more than one statement asks for
		key := KeyOf("small", fmt.Sprint("passage ", i))
		want[key] = []int8{int8(i % 100), -127, 127}
		keys = append(keys, key)
	}
	if err := s.KeepVectors(t.Context(), want); err != nil {
		t.Fatal(err)
	}
	other := KeyOf("large", "passage 1")
	got, err := s.Vectors(t.Context(), append(keys, other))
	if err != nil || len(got) != len(want) || got[other] != nil {
		t.Fatalf("%d of %d vectors, of another encoder %v, error %v", len(got), len(want), got[other], err)
	}
	for key, v := range want {
		if !slices.Equal(got[key], v) {
			t.Errorf("%v became %v", v, got[key])
		}
	}
	if err := s.DropVectors(t.Context(), keys[:1]); err != nil {
		t.Fatal(err)
	}
	if got, err := s.Vectors(t.Context(), keys[:2]); err != nil || len(got) != 1 {
		t.Errorf("after dropping one of two: %d, error %v", len(got), err)
	}
}

func TestWhatLacksVectors(t *testing.T) {
	s := open(t, t.TempDir())
	c, err := s.CreateCollection(t.Context(), "garden", nil)
	if err != nil {
		t.Fatal(err)
	}
	for _, name := range []string{"a", "b", "c"} {
		d, _, err := s.AddDocument(t.Context(), c, name, name, 1)
		if err != nil {
			t.Fatal(err)
		}
		if err := s.SetReady(t.Context(), map[string]Counts{d.ID: {Passages: 3, Encoded: map[string]int{"b": 3}[name]}}, nil); err != nil {
			t.Fatal(err)
		}
	}
	docs, err := s.Unencoded(t.Context(), 10)
	if err != nil || len(docs) != 2 {
		t.Fatalf("%d documents lack vectors, error %v", len(docs), err)
	}
	if err := s.SetEncoded(t.Context(), map[string]int{docs[0].ID: 3}); err != nil {
		t.Fatal(err)
	}
	if rest, err := s.Unencoded(t.Context(), 10); err != nil || len(rest) != 1 || rest[0].ID != docs[1].ID {
		t.Errorf("then %d do, error %v", len(rest), err)
	}
}
