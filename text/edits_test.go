package text

import "testing"

func TestEdits(t *testing.T) {
	for _, test := range []struct {
		a, b string
		want int
	}{
		{"weight", "weight", 0}, {"wieght", "weight", 1}, {"weigth", "weight", 1}, {"wight", "weight", 1}, {"", "abc", 3}, {"abc", "", 3}, {"abc", "xyz", 3},
		{"ca", "abc", 3}, {"höhe", "hohe", 1},
	} {
		if got := Edits([]rune(test.a), []rune(test.b)); got != test.want {
			t.Errorf("%q and %q differ by %d, want %d", test.a, test.b, got, test.want)
		}
		if got := Edits([]rune(test.b), []rune(test.a)); got != test.want {
			t.Errorf("%q and %q differ by %d, want %d", test.b, test.a, got, test.want)
		}
	}
}

func TestShortWordsAreTakenAsTheyAre(t *testing.T) {
	for letters, want := range map[int]int{0: 0, 4: 0, 5: 1, 7: 1, 8: 2, 30: 2} {
		if got := EditsAllowed(letters); got != want {
			t.Errorf("%d letters may differ by %d, want %d", letters, got, want)
		}
	}
}
