package ledger

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"

	"github.com/nats-io/nats.go/jetstream"
)

// PutBytes keeps bytes under their hash and returns it.
func (l *Ledger) PutBytes(ctx context.Context, data []byte) (sum string, err error) {
	hash := sha256.Sum256(data)
	sum = hex.EncodeToString(hash[:])
	return sum, l.Put(ctx, sum, bytes.NewReader(data))
}

// Put keeps what r holds under its hash, which the caller knows. When it returns nil a majority of
// the servers has it.
func (l *Ledger) Put(ctx context.Context, sum string, r io.Reader) error {
	if has, err := l.Has(ctx, sum); err != nil || has {
		return err
	}
	if _, err := l.files.Put(ctx, jetstream.ObjectMeta{Name: sum}, r); err != nil {
		return fmt.Errorf("ledger: keep file %s: %w", sum, err)
	}
	return nil
}

// Has tells whether there is a file of a hash.
func (l *Ledger) Has(ctx context.Context, sum string) (bool, error) {
	_, err := l.files.GetInfo(ctx, sum)
	if errors.Is(err, jetstream.ErrObjectNotFound) {
		return false, nil
	}
	if err != nil {
		return false, fmt.Errorf("ledger: file %s: %w", sum, err)
	}
	return true, nil
}

// Bytes returns the file of a hash.
func (l *Ledger) Bytes(ctx context.Context, sum string) ([]byte, error) {
	var out bytes.Buffer
	err := l.Get(ctx, sum, &out)
	return out.Bytes(), err
}

// Get writes the file of a hash to w, and says so if what was kept is not that any more.
func (l *Ledger) Get(ctx context.Context, sum string, w io.Writer) error {
	object, err := l.files.Get(ctx, sum)
	if errors.Is(err, jetstream.ErrObjectNotFound) {
		return fmt.Errorf("ledger: file %s: %w", sum, ErrNoObject)
	}
	if err != nil {
		return fmt.Errorf("ledger: file %s: %w", sum, err)
	}
	defer object.Close()
	hash := sha256.New()
	if _, err := io.Copy(io.MultiWriter(w, hash), object); err != nil {
		return fmt.Errorf("ledger: file %s: %w", sum, err)
	}
	if got := hex.EncodeToString(hash.Sum(nil)); got != sum {
		return fmt.Errorf("ledger: file %s is damaged: what is kept has the hash %s", sum, got)
	}
	return nil
}

// PutNamed keeps a file under a name of its own, in the place of the one that was there.
func (l *Ledger) PutNamed(ctx context.Context, name string, r io.Reader) error {
	if _, err := l.files.Put(ctx, jetstream.ObjectMeta{Name: name}, r); err != nil {
		return fmt.Errorf("ledger: keep %s: %w", name, err)
	}
	return nil
}

// Named returns the file of a name, ErrNoObject if there is none.
func (l *Ledger) Named(ctx context.Context, name string) ([]byte, error) {
	data, err := l.files.GetBytes(ctx, name)
	if errors.Is(err, jetstream.ErrObjectNotFound) {
		return nil, fmt.Errorf("ledger: %s: %w", name, ErrNoObject)
	}
	if err != nil {
		return nil, fmt.Errorf("ledger: %s: %w", name, err)
	}
	return data, nil
}

// Remove removes the file of a hash; there need not be one.
func (l *Ledger) Remove(ctx context.Context, sum string) error {
	if err := l.files.Delete(ctx, sum); err != nil && !errors.Is(err, jetstream.ErrObjectNotFound) {
		return fmt.Errorf("ledger: remove file %s: %w", sum, err)
	}
	return nil
}
