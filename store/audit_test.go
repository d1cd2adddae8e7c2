package store

import (
	"testing"
	"time"

	"jardinet/access"
)

func filled(t *testing.T, n int) *Store {
	t.Helper()
	s, err := Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	day := time.Date(2026, 11, 1, 8, 0, 0, 0, time.UTC)
	for i := range n {
		if err := s.AddAudit(t.Context(), []*access.Entry{{At: day.AddDate(0, 0, i), Who: "gwen", Operation: "setTags", Outcome: 200}}); err != nil {
			t.Fatal(err)
		}
	}
	return s
}

// whole follows the chain and returns how many entries it holds.
func whole(t *testing.T, s *Store) (int, error) {
	t.Helper()
	chain, err := s.AuditStart(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	n := 0
	for data, err := range s.Audit(t.Context(), time.Time{}, false) {
		if err != nil {
			t.Fatal(err)
		}
		if err := chain.Next(data); err != nil {
			return n, err
		}
		n++
	}
	return n, nil
}

func TestAuditIsOnlyAddedTo(t *testing.T) {
	s := filled(t, 5)
	for _, change := range []string{
		"UPDATE audit SET entry = '{}' WHERE number = 2", "DELETE FROM audit WHERE number = 2", "DELETE FROM audit",
	} {
		if _, err := s.db.Exec(change); err == nil {
			t.Errorf("%s is let through", change)
		}
	}
	if n, err := whole(t, s); n != 5 || err != nil {
		t.Errorf("%d entries follow, then %v", n, err)
	}
}

// TestAuditShowsChanges goes behind the program's back.
func TestAuditShowsChanges(t *testing.T) {
	for name, change := range map[string]string{
		"changed":     "UPDATE audit SET entry = replace(entry, 'gwen', 'edda') WHERE number = 3",
		"taken out":   "DELETE FROM audit WHERE number = 3",
		"put between": "UPDATE audit SET number = number + 1 WHERE number = 5; INSERT INTO audit VALUES (5, '', '{\"number\":5}')",
	} {
		s := filled(t, 5)
		if _, err := s.db.Exec("DROP TRIGGER audit_stays; DROP TRIGGER audit_kept; " + change); err != nil {
			t.Fatal(name, err)
		}
		if n, err := whole(t, s); err == nil {
			t.Errorf("%s: %d entries follow and nothing shows", name, n)
		}
	}
}

func TestTrimAudit(t *testing.T) {
	s := filled(t, 5)
	if err := s.TrimAudit(t.Context(), time.Date(2026, 11, 3, 0, 0, 0, 0, time.UTC)); err != nil {
		t.Fatal(err)
	}
	if n, err := whole(t, s); n != 3 || err != nil {
		t.Errorf("after the first two are let go of, %d follow, then %v", n, err)
	}
	if err := s.AddAudit(t.Context(), []*access.Entry{{At: time.Now(), Who: "gwen"}}); err != nil {
		t.Fatal(err)
	}
	if n, err := whole(t, s); n != 4 || err != nil {
		t.Errorf("with a new one %d follow, then %v", n, err)
	}
}
