package ledger

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"strings"
	"time"

	"github.com/nats-io/nats.go/jetstream"
)

// Files are kept under names that end in the hash of what they hold, but for those of Unlocked. What
// they begin with says what they are, and so how long they are needed.
const (
	Original = ""          // as it was handed in
	Unlocked = "unlocked-" // pages of one that asks for a password; the hash is that of the original
	Segment  = "segment-"  // of a shard
	Change   = "change-"   // that is too long to stand in the stream
	Records  = "records-"  // a snapshot
)

// A File is one that is kept.
type File struct {
	Name string
	Size int64
	Made time.Time
}

// PutBytes keeps bytes under their hash and returns it.
func (l *Ledger) PutBytes(ctx context.Context, kind string, data []byte) (sum string, err error) {
	hash := sha256.Sum256(data)
	sum = hex.EncodeToString(hash[:])
	return sum, l.Put(ctx, kind+sum, bytes.NewReader(data))
}

// Put keeps what r holds under a name that ends in its hash, which the caller knows, if it is not
// there. When it returns nil a majority of the servers has it.
func (l *Ledger) Put(ctx context.Context, name string, r io.Reader) error {
	if has, err := l.Has(ctx, name); err != nil || has {
		return err
	}
	return l.Replace(ctx, name, r)
}

// Replace keeps what r holds under a name, in the place of what was there.
func (l *Ledger) Replace(ctx context.Context, name string, r io.Reader) error {
	if _, err := l.files.Put(ctx, jetstream.ObjectMeta{Name: name}, r); err != nil {
		return away("keep file "+name, err)
	}
	return nil
}

// Has tells whether there is a file of a name.
func (l *Ledger) Has(ctx context.Context, name string) (bool, error) {
	_, err := l.files.GetInfo(ctx, name)
	if errors.Is(err, jetstream.ErrObjectNotFound) {
		return false, nil
	}
	return err == nil, away("file "+name, err)
}

// away says that something cannot be done since NATS cannot be reached now; nil stays nil.
func away(what string, err error) error {
	if err == nil {
		return nil
	}
	return fmt.Errorf("ledger: %s: %w: %w", what, ErrAway, err)
}

// Bytes returns the file of a name.
func (l *Ledger) Bytes(ctx context.Context, name string) ([]byte, error) {
	var out bytes.Buffer
	err := l.Get(ctx, name, &out)
	return out.Bytes(), err
}

// Get writes the file of a name to w, and says so if what was kept is not that any more.
func (l *Ledger) Get(ctx context.Context, name string, w io.Writer) error {
	object, err := l.files.Get(ctx, name)
	if errors.Is(err, jetstream.ErrObjectNotFound) {
		return fmt.Errorf("ledger: file %s: %w", name, ErrNoObject)
	}
	if err != nil {
		return away("file "+name, err)
	}
	defer object.Close()
	hash := sha256.New()
	if _, err := io.Copy(io.MultiWriter(w, hash), object); err != nil {
		return away("file "+name, err)
	}
	if got := hex.EncodeToString(hash.Sum(nil)); !strings.HasSuffix(name, got) && !strings.HasPrefix(name, Unlocked) {
		return fmt.Errorf("ledger: file %s is damaged: what is kept has the hash %s", name, got)
	}
	return nil
}

// Remove removes the file of a name; there need not be one.
func (l *Ledger) Remove(ctx context.Context, name string) error {
	if err := l.files.Delete(ctx, name); err != nil && !errors.Is(err, jetstream.ErrObjectNotFound) {
		return away("remove file "+name, err)
	}
	return nil
}

// Files returns all files that are kept.
func (l *Ledger) Files(ctx context.Context) ([]File, error) {
	all, err := l.files.List(ctx)
	if errors.Is(err, jetstream.ErrNoObjectsFound) {
		return nil, nil
	}
	if err != nil {
		return nil, away("list files", err)
	}
	out := make([]File, len(all))
	for i, info := range all {
		out[i] = File{info.Name, int64(info.Size), info.ModTime}
	}
	return out, nil
}
