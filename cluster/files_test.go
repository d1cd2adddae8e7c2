package cluster

import (
	"errors"
	"os"
	"strings"
	"testing"

	"jardinet/ledger"
)

// TestLends holds that an original which NATS has lost comes from a host that has it, and that what
// nobody has is said to be gone.
func TestLends(t *testing.T) {
	tr := newTrial(t, 0)
	ctx := t.Context()
	has, lacks := tr.hosts[0], tr.hosts[1]
	sum, _, err := has.store.Keep(strings.NewReader("a manual"), 100)
	if err != nil {
		t.Fatal(err)
	}
	if err := has.PutOriginal(ctx, has.store.FilePath(sum), sum); err != nil {
		t.Fatal(err)
	}
	if err := has.RemoveOriginal(ctx, sum); err != nil {
		t.Fatal(err)
	}
	if err := lacks.FetchOriginal(ctx, sum); err != nil {
		t.Fatal(err)
	}
	if data, err := os.ReadFile(lacks.store.FilePath(sum)); err != nil || string(data) != "a manual" {
		t.Errorf("it has %q, error %v", data, err)
	}
	if there, err := has.ledger.Has(ctx, ledger.Original+sum); err != nil || !there {
		t.Errorf("it is with NATS again: %v, error %v", there, err)
	}
	if err := lacks.FetchOriginal(ctx, strings.Repeat("0", 64)); !errors.Is(err, ledger.ErrNoObject) || !strings.Contains(err.Error(), "no other host") {
		t.Errorf("what nobody has gives %v", err)
	}
}
