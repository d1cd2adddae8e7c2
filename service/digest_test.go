package service

import (
	"errors"
	"strings"
	"testing"

	"jardinet/api"
)

func TestDigest(t *testing.T) {
	s := stocked(t)
	d, err := s.Digest(t.Context(), "garden", "seed-vault-manual.pdf")
	if err != nil {
		t.Fatal(err)
	}
	if len(d.Summary) != 5 || len(d.OnePage) != 20 || len(d.Chapters) < 10 || d.Outline[0].Title != "1 The vault and what it is for" || d.Outline[0].About == nil {
		t.Errorf("the digest has %d and %d sentences, %d chapters, and begins with %+v", len(d.Summary), len(d.OnePage), len(d.Chapters), d.Outline[0])
	}
	found := false
	for _, f := range d.Figures {
		if f.Words == "four hours" {
			found = f.Value == 4 && f.Bound == "at most" && f.Quote.Page == 4 && len(f.Quote.Boxes) > 0
		}
	}
	if !found {
		t.Error("the rule of four hours is no figure")
	}
	again, err := s.Digest(t.Context(), "garden", "seed-vault-manual.pdf")
	if err != nil || !again.Made.Equal(d.Made) {
		t.Errorf("it was made again: %v", err)
	}
}

// TestDigestIsEdited drops a line and words another anew, and finds both so in a new version.
func TestDigestIsEdited(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	const first = "# Keys\n\nThe keeper must sign for each key. Visitors must not touch the keys.\n"
	addBytes(t, s, "garden", "keys.md", first)
	settle(t, s, "garden")
	d, err := s.Digest(t.Context(), "garden", "keys.md")
	if err != nil || len(d.Duties) != 2 {
		t.Fatalf("the duties are %+v, error %v", d, err)
	}
	if err := s.EditDigest(t.Context(), "garden", "keys.md", d.Duties[1].ID, &api.DigestEdit{Drop: true}); err != nil {
		t.Fatal(err)
	}
	if err := s.EditDigest(t.Context(), "garden", "keys.md", d.Duties[0].ID, &api.DigestEdit{Text: "Keepers sign."}); err != nil {
		t.Fatal(err)
	}
	addBytes(t, s, "garden", "keys.md", first+"\nThe warden must count them.\n")
	settle(t, s, "garden")
	d, err = s.Digest(t.Context(), "garden", "keys.md")
	if err != nil || len(d.Duties) != 2 || d.Dropped != 1 || d.Duties[0].Quote.Text != "Keepers sign." || !d.Duties[0].Quote.Corrected {
		t.Errorf("the digest is %+v, error %v", d, err)
	}
	if err := s.EditDigest(t.Context(), "garden", "keys.md", d.Duties[0].ID, nil); err != nil {
		t.Fatal(err)
	}
	if d, err = s.Digest(t.Context(), "garden", "keys.md"); err != nil || d.Duties[0].Quote.Corrected {
		t.Errorf("what was taken back holds: %v", err)
	}
	sentence := d.OnePage[0]
	if err := s.EditDigest(t.Context(), "garden", "keys.md", sentence.ID, &api.DigestEdit{Drop: true}); err != nil {
		t.Fatal(err)
	}
	if left, err := s.Digest(t.Context(), "garden", "keys.md"); err != nil || len(left.OnePage) != len(d.OnePage)-1 || left.OnePage[0].Text == sentence.Text || left.Dropped != d.Dropped+1 {
		t.Errorf("of %+v are left %+v, error %v", d.OnePage, left, err)
	}
	for _, bad := range []struct {
		line string
		edit api.DigestEdit
		want error
	}{{"none", api.DigestEdit{Drop: true}, ErrNotFound}, {d.Duties[0].ID, api.DigestEdit{}, ErrInvalid}, {d.Duties[0].ID, api.DigestEdit{Drop: true, Text: "x"}, ErrInvalid}} {
		if err := s.EditDigest(t.Context(), "garden", "keys.md", bad.line, &bad.edit); !errors.Is(err, bad.want) {
			t.Errorf("%+v gives %v", bad, err)
		}
	}
}

func TestDigestForPeople(t *testing.T) {
	s := stocked(t)
	d, err := s.Digest(t.Context(), "garden", "seed-vault-manual.pdf")
	if err != nil {
		t.Fatal(err)
	}
	for part, want := range map[string]string{"": "# Seed Vault Manual\n", "dates": "- **2025-09-30**: On 30 September 2025", "figures": "- **at most four hours** · 1.2", "duties": "- 2.2 **must** The contractor must arrive", "chapters": "### 2 Conditions (page 5)"} {
		if got := d.Markdown(part); !strings.Contains(got, want) {
			t.Errorf("the part %q lacks %q", part, want)
		}
	}
	calendar := d.Calendar()
	for _, want := range []string{"BEGIN:VCALENDAR\r\n", "DTSTART;VALUE=DATE:20250930\r\nDTEND;VALUE=DATE:20251001\r\n", "RRULE:FREQ=YEARLY\r\n", "END:VCALENDAR\r\n"} {
		if !strings.Contains(calendar, want) {
			t.Errorf("the calendar lacks %q", want)
		}
	}
	for line := range strings.SplitSeq(calendar, "\r\n") {
		if len(line) > 75 {
			t.Errorf("a line of the calendar is too long: %q", line)
		}
	}
}
