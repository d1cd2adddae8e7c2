package cluster

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"time"

	"github.com/klauspost/compress/s2"

	"jardinet/ledger"
	"jardinet/store"
)

// The host that comes first founds the cluster, from the records that it has, or from none. Each
// that comes later takes over the latest snapshot, and does the changes that follow it. Records of
// a host that was alone, or of another cluster, are never overwritten.

// apart is the name of a file that says that the records beside it are no longer those of the
// cluster, and are to be fetched anew.
const apart = "fetch-records"

// found makes the records in dir those of the cluster, up to some change.
func (c *Cluster) found(ctx context.Context, dir string) error {
	shards, replicas := c.Shards, c.Replicas
	err := c.ledger.Found(ctx, &c.terms, terms{ID: store.NewID(), Founder: c.Host, Shards: shards, Replicas: replicas})
	if err != nil {
		return err
	}
	if err := c.clear(dir); err != nil {
		return err
	}
	local, err := look(ctx, dir)
	if err != nil {
		return err
	}
	if local.cluster != "" && local.cluster != c.terms.ID {
		return fmt.Errorf("cluster: the records in %s are those of another cluster; choose another directory with --data, or other NATS servers with --cluster", dir)
	}
	ready, err := c.ledger.IsFounded(ctx)
	if err != nil {
		return err
	}
	switch {
	case !ready && c.terms.Founder == c.Host:
		return c.begin(ctx, dir, local)
	case !ready:
		if err := c.waitForFounder(ctx); err != nil {
			return err
		}
	}
	if local.cluster == "" && !local.empty {
		return fmt.Errorf("cluster: %s holds the records of a host that was alone, and the cluster has its own; start this host with an empty directory, and move its documents over with \"jardinet export\" and \"jardinet add\"", dir)
	}
	return c.catchUp(ctx, dir, local)
}

// waitForFounder waits until the host that founds the cluster has put its records there.
func (c *Cluster) waitForFounder(ctx context.Context) error {
	ctx, cancel := context.WithTimeout(ctx, foundsWithin)
	defer cancel()
	for {
		ready, err := c.ledger.IsFounded(ctx)
		if ready {
			return nil
		}
		select {
		case <-ctx.Done():
			return errors.Join(fmt.Errorf("cluster: host %s has begun to found the cluster and has not ended; start it again", c.terms.Founder), err)
		case <-time.After(c.timing.beat):
		}
	}
}

// foundsWithin is how long hosts wait for the first one to hand in its records.
const foundsWithin = 10 * time.Minute

// A local is what the records of this host are.
type local struct {
	there   bool
	empty   bool // no collection and nobody is in them
	number  uint64
	cluster string
}

func look(ctx context.Context, dir string) (l local, err error) {
	if stat, err := os.Stat(filepath.Join(dir, store.Records)); err != nil || stat.Size() == 0 {
		return local{empty: true}, nil
	}
	st, err := store.Open(ctx, dir)
	if err != nil {
		return l, err
	}
	defer func() { err = errors.Join(err, st.Close()) }()
	l.there = true
	if l.number, l.cluster, err = st.Position(ctx); err != nil {
		return l, err
	}
	l.empty, err = st.IsEmpty(ctx)
	return l, err
}

// begin founds the cluster with the records of this host.
func (c *Cluster) begin(ctx context.Context, dir string, l local) error {
	st, err := store.Open(ctx, dir)
	if err != nil {
		return err
	}
	defer st.Close()
	if l.cluster == "" {
		if err := st.Join(ctx, c.terms.ID, 0); err != nil {
			return err
		}
	}
	if !l.empty {
		c.Log.Info("founding the cluster with the records of this host")
		if err := c.putOriginals(ctx, st); err != nil {
			return err
		}
		if err := c.snapshot(ctx, st); err != nil {
			return err
		}
	}
	return c.ledger.Founded(ctx)
}

// putOriginals hands in all originals.
func (c *Cluster) putOriginals(ctx context.Context, st *store.Store) error {
	sums, err := st.Sums(ctx)
	if err != nil {
		return err
	}
	for _, sum := range sums {
		if err := c.PutOriginal(ctx, st.FilePath(sum), sum); err != nil && !errors.Is(err, os.ErrNotExist) {
			return err
		}
	}
	return nil
}

// catchUp fetches the latest snapshot if this host has no records, or older ones than the ledger
// can bring up to date.
func (c *Cluster) catchUp(ctx context.Context, dir string, l local) error {
	latest, err := c.ledger.Latest(ctx)
	if err != nil {
		return err
	}
	trimmed, err := c.ledger.Trimmed(ctx)
	if err != nil {
		return err
	}
	if l.cluster == "" && latest == nil {
		st, err := store.Open(ctx, dir)
		if err != nil {
			return err
		}
		return errors.Join(st.Join(ctx, c.terms.ID, 0), st.Close())
	}
	if l.cluster == c.terms.ID && l.number >= trimmed {
		return nil
	}
	if latest == nil {
		return errors.New("cluster: changes have been let go of, and there is no snapshot of them; put a backup in place")
	}
	c.Log.Info("fetching the records of the cluster", "change", latest.Number, "mib", latest.Size>>20)
	return c.fetch(ctx, dir, latest)
}

// fetch puts a snapshot in the place of the records.
func (c *Cluster) fetch(ctx context.Context, dir string, s *ledger.Snapshot) error {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return fmt.Errorf("cluster: %w", err)
	}
	packed, err := os.CreateTemp(dir, "records-")
	if err != nil {
		return fmt.Errorf("cluster: %w", err)
	}
	defer os.Remove(packed.Name())
	defer packed.Close()
	if err := c.ledger.Get(ctx, ledger.Records+s.Sum, packed); err != nil {
		return err
	}
	if _, err := packed.Seek(0, io.SeekStart); err != nil {
		return fmt.Errorf("cluster: %w", err)
	}
	records, err := os.CreateTemp(dir, "records-")
	if err != nil {
		return fmt.Errorf("cluster: %w", err)
	}
	defer os.Remove(records.Name())
	defer records.Close()
	if _, err := io.Copy(records, s2.NewReader(packed)); err != nil {
		return fmt.Errorf("cluster: unpack the records: %w", err)
	}
	if err := records.Sync(); err != nil {
		return fmt.Errorf("cluster: %w", err)
	}
	path := filepath.Join(dir, store.Records)
	for _, log := range []string{path + "-wal", path + "-shm"} {
		if err := os.Remove(log); err != nil && !errors.Is(err, os.ErrNotExist) {
			return fmt.Errorf("cluster: %w", err)
		}
	}
	if err := os.Rename(records.Name(), path); err != nil {
		return fmt.Errorf("cluster: %w", err)
	}
	return nil
}

// snapshot hands in the records as they are.
func (c *Cluster) snapshot(ctx context.Context, st *store.Store) error {
	plain, number, err := st.Copy(ctx)
	if err != nil {
		return err
	}
	defer os.Remove(plain)
	from, err := os.Open(plain)
	if err != nil {
		return fmt.Errorf("cluster: %w", err)
	}
	defer from.Close()
	packed, err := os.CreateTemp(filepath.Dir(plain), "records-")
	if err != nil {
		return fmt.Errorf("cluster: %w", err)
	}
	defer os.Remove(packed.Name())
	defer packed.Close()
	hash := sha256.New()
	to := s2.NewWriter(io.MultiWriter(packed, hash))
	if _, err := io.Copy(to, from); err != nil {
		return fmt.Errorf("cluster: pack the records: %w", err)
	}
	if err := to.Close(); err != nil {
		return fmt.Errorf("cluster: pack the records: %w", err)
	}
	size, err := packed.Seek(0, io.SeekCurrent)
	if err == nil {
		_, err = packed.Seek(0, io.SeekStart)
	}
	if err != nil {
		return fmt.Errorf("cluster: %w", err)
	}
	sum := hex.EncodeToString(hash.Sum(nil))
	if err := c.ledger.Put(ctx, ledger.Records+sum, packed); err != nil {
		return err
	}
	return c.ledger.Snapshot(ctx, ledger.Snapshot{Number: number, Sum: sum, Size: size, Made: time.Now().UTC()})
}

// setAside has the records fetched anew at the next start.
func (c *Cluster) setAside() error {
	return os.WriteFile(filepath.Join(c.dir, apart), nil, 0o600)
}

// clear removes records that are to be fetched anew.
func (c *Cluster) clear(dir string) error {
	mark := filepath.Join(dir, apart)
	if _, err := os.Stat(mark); err != nil {
		return nil
	}
	c.Log.Warn("the records of this host are set aside and fetched anew", "kept as", store.Records+".apart")
	path := filepath.Join(dir, store.Records)
	for _, end := range []string{"-wal", "-shm"} {
		_ = os.Remove(path + end)
	}
	if err := os.Rename(path, path+".apart"); err != nil && !errors.Is(err, os.ErrNotExist) {
		return fmt.Errorf("cluster: %w", err)
	}
	if err := os.Remove(mark); err != nil {
		return fmt.Errorf("cluster: %w", err)
	}
	return nil
}
