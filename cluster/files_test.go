package cluster

import (
	"bytes"
	"context"
	"errors"
	"os"
	"strings"
	"testing"

	"golang.org/x/time/rate"

	"jardinet/ledger"
)

// TestPaced holds that all is written that is given at once, in pieces of what may be written at a time.
func TestPaced(t *testing.T) {
	var out bytes.Buffer
	p := &paced{t.Context(), &out, rate.NewLimiter(rate.Inf, 4)}
	if n, err := p.Write([]byte("a manual of the seed vault")); err != nil || n != 26 || out.String() != "a manual of the seed vault" {
		t.Errorf("written are %d bytes, %q, error %v", n, out.String(), err)
	}
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	late := &paced{ctx, &out, rate.NewLimiter(1, 4)}
	if _, err := late.Write([]byte("a manual")); !errors.Is(err, context.Canceled) {
		t.Errorf("when it is no longer wanted it gives %v", err)
	}
}

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
