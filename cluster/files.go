package cluster

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"slices"
	"time"

	"golang.org/x/time/rate"

	"jardinet/ledger"
)

// Files are kept with NATS under their hashes, and on the disks of the hosts that need them. An
// original that NATS has no longer, since it was dropped by one host while another took it in again
// or since a server's disk was lost, is asked of the hosts; who has it hands it in again.

// lendSubject is where all hosts are asked for an original that NATS does not have.
const lendSubject = "jardinet.lend"

// lendsWithin is how long the other hosts have to hand in what one of them lacks.
const lendsWithin = 5 * time.Second

// PutOriginal hands in a file that this host has, under its hash.
func (c *Cluster) PutOriginal(ctx context.Context, path, sum string) error {
	f, err := os.Open(path)
	if err != nil {
		return fmt.Errorf("cluster: %w", err)
	}
	defer f.Close()
	return c.ledger.Put(ctx, ledger.Original+sum, f)
}

// RemoveOriginal removes an original, and the pages of one that was unlocked, from what is in common.
func (c *Cluster) RemoveOriginal(ctx context.Context, sum string) error {
	return errors.Join(c.ledger.Remove(ctx, ledger.Original+sum), c.ledger.Remove(ctx, ledger.Unlocked+sum))
}

// Fetch brings a file to a place of its own in the data directory, unless it is there. That nobody has
// it is ledger.ErrNoObject.
func (c *Cluster) Fetch(ctx context.Context, name, path string) error {
	if _, err := os.Stat(path); err == nil || !errors.Is(err, os.ErrNotExist) {
		return err
	}
	return c.store.Put(path, func(w io.Writer) error { return c.ledger.Get(ctx, name, &paced{ctx, w, c.fetching}) })
}

// fetchesAtMost is how many bytes a second a host fetches, beyond as many at once: shards that move leave
// the network to the questions.
const fetchesAtMost = 48 << 20

// A paced writer waits before it writes more than it may.
type paced struct {
	ctx   context.Context
	to    io.Writer
	limit *rate.Limiter
}

func (p *paced) Write(data []byte) (n int, err error) {
	for some := range slices.Chunk(data, p.limit.Burst()) {
		if err := p.limit.WaitN(p.ctx, len(some)); err != nil {
			return n, err
		}
		done, err := p.to.Write(some)
		if n += done; err != nil {
			return n, err
		}
	}
	return n, nil
}

// FetchOriginal brings an original to its place in the data directory, unless it is there.
func (c *Cluster) FetchOriginal(ctx context.Context, sum string) error {
	path := c.store.FilePath(sum)
	err := c.Fetch(ctx, ledger.Original+sum, path)
	if !errors.Is(err, ledger.ErrNoObject) {
		return err
	}
	asking, cancel := context.WithTimeout(ctx, lendsWithin)
	defer cancel()
	if _, asked := c.Ask(asking, lendSubject, []byte(sum)); asked != nil {
		return fmt.Errorf("%w, and no other host has it", err)
	}
	return c.Fetch(ctx, ledger.Original+sum, path)
}

// lend hands in what another host lacks and this one has, until ctx is done.
func (c *Cluster) lend(ctx context.Context) error {
	return c.Reply(ctx, lendSubject, func(request []byte) ([]byte, bool) {
		sum := string(request)
		return nil, c.PutOriginal(ctx, c.store.FilePath(sum), sum) == nil
	})
}
