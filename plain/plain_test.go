package plain

import (
	"math"
	"slices"
	"strings"
	"testing"

	"jardinet/text"
)

func TestCut(t *testing.T) {
	for _, c := range []struct {
		language text.Language
		want     string // parts, a bar between them
	}{
		{text.English, "The keeper closes the outer door at six in the evening.|The deputy is told by telephone on the same day."},
		{text.English, "Up to five days may be carried over and must be taken by 30 June.|The rest lapses."},
		{text.English, "The alarm can be heard in the lodge at any hour of the night.|But it does not sound in the houses."},
		{"fr", "Le gardien est prévenu par téléphone le jour même.|La porte est fermée à six heures du soir."},
		{"de", "Der Wärter wird am selben Tag angerufen.|Die Tür ist ab sechs Uhr abends geschlossen."},
	} {
		join := map[text.Language]string{text.English: ", and ", "fr": ", et ", "de": ", und "}[c.language]
		parts := strings.Split(c.want, "|")
		right := parts[1]
		if strings.HasPrefix(right, "The rest") {
			join = "; "
		} else if rest, ok := strings.CutPrefix(right, "But "); ok {
			join, right = ", but ", rest
		}
		whole := strings.TrimSuffix(parts[0], ".") + join + strings.ToLower(right[:1]) + right[1:]
		if got := Cut(whole, c.language); !slices.Equal(got, parts) {
			t.Errorf("%q is cut into %q", whole, got)
		}
	}
}

// What a condition holds for is not parted from it, nor a list or a quotation taken apart.
func TestCutLeavesWhole(t *testing.T) {
	for _, s := range []string{
		"If the temperature rises above minus ten, and the keeper is not there, the deputy must be called at once.",
		"Pumps, valves, and the boiler are tested by the estates team in the first week of each month.",
		"The keeper, the deputy, and the head of glasshouses may open the store on their own at night.",
		"Three things are forbidden in here: the door is left open, and the lamp is left on overnight.",
		"Seed is dried, cleaned, and sealed in foil bags of three layers before the end of the day.",
		"The palm house is kept at eighteen degrees by night; the arid house at five degrees.",
		"The door is closed, and it is locked.",
		"A parent has 26 weeks on full pay after a birth, and the other parent six weeks.",
		"The licence must be given with no invariant sections in it, and no back-cover texts.",
		"All installation directories, and their parent directories, should be made before anything is put into them.",
		"Next should follow a line with the licence, and a brief statement that the program is free.",
		"Staff who have been ill must call in by nine, and the manager may ask for a certificate.",
	} {
		if got := Cut(s, text.English); len(got) != 1 || got[0] != s {
			t.Errorf("%q is cut into %q", s, got)
		}
	}
	if s := "Wenn der Wärter krank ist, wird der Leiter angerufen, und die Tür bleibt bis zum Abend geschlossen."; len(Cut(s, "de")) != 1 {
		t.Errorf("%q is cut into %q", s, Cut(s, "de"))
	}
}

func TestWriteOut(t *testing.T) {
	for _, c := range []struct{ s, short, means, want string }{
		{"Tell the DO at once.", "DO", "duty officer", "Tell the duty officer (DO) at once."},
		{"An SSI is signed.", "SSI", "standing safety instruction", "A standing safety instruction (SSI) is signed."},
		{"Write a UPS into the log.", "UPS", "uninterruptible supply", "Write an uninterruptible supply (UPS) into the log."},
		{"The duty officer (DO) is told.", "DO", "duty officer", ""},
		{"DO-12 is a form.", "DO", "duty officer", ""},
	} {
		got, ok := WriteOut(c.s, c.short, c.means)
		if want := c.want; ok != (want != "") || ok && got != want {
			t.Errorf("%q becomes %q, want %q", c.s, got, want)
		}
	}
}

func TestEase(t *testing.T) {
	for word, want := range map[string]int{"made": 1, "table": 2, "boxes": 2, "closed": 1, "planted": 2, "temperature": 4, "the": 1, "15": 1, "houses": 2, "stores": 1} {
		if got := Syllables(word, text.English); got != want {
			t.Errorf("%q has %d syllables, want %d", word, got, want)
		}
	}
	m := Ease([]string{"The cat sat on the mat."}, text.English)
	if math.Abs(m.Ease-116.145) > 0.001 || m.Sentences != 1 || m.Words != 6 {
		t.Errorf("six short words measure %+v", m)
	}
	if hard := Ease([]string{"Notwithstanding administrative responsibilities, institutional representatives immediately communicate irregularities."}, text.English); hard.Ease > 0 {
		t.Errorf("long words measure %+v", hard)
	}
	if Ease(nil, text.English) != (Measure{}) {
		t.Error("no sentence has an ease")
	}
}
