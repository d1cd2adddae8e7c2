package service

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

	"jardinet/api"
	"jardinet/backup"
	"jardinet/store"
)

// An inspection reads everything that is kept and holds it to its checksums.
type inspection struct {
	*Service
	mend     bool
	gently   bool // rests as long as it works
	progress func(done, all int)
	damages  []api.Damage
}

// Inspect reads everything that is kept and returns what is damaged, nothing if all is well.
// What can be derived again is mended if that is wanted. progress may be nil.
func (s *Service) Inspect(ctx context.Context, mend bool, progress func(done, all int)) ([]api.Damage, error) {
	in := &inspection{Service: s, mend: mend, progress: progress, damages: []api.Damage{}}
	err := in.run(ctx)
	if len(in.damages) > 0 && ctx.Err() == nil && err != nil {
		in.found("", "", err.Error()+"; the rest could not be checked", false)
		err = nil
	}
	return in.damages, err
}

func (in *inspection) run(ctx context.Context) error {
	problems, err := in.store.Integrity(ctx)
	if err != nil {
		problems = []string{err.Error()}
	}
	for _, p := range problems {
		in.found("", "", "the records: "+p+"; restore a backup with: jardinet restore", false)
	}
	in.mu.Lock()
	var all []*collection
	for _, c := range in.collections {
		all = append(all, c)
	}
	in.mu.Unlock()
	good := map[string]bool{} // originals by hash
	for i, c := range all {
		if err := in.collection(ctx, c, good); err != nil {
			return err
		}
		if in.progress != nil {
			in.progress(i+1, len(all))
		}
	}
	return in.strays(ctx)
}

func (in *inspection) found(collection, document, what string, mended bool) {
	in.damages = append(in.damages, api.Damage{Collection: collection, Document: document, What: what, Mended: mended})
}

func (in *inspection) collection(ctx context.Context, c *collection, good map[string]bool) error {
	docs, err := in.store.Documents(ctx, c.ID)
	if err != nil {
		return err
	}
	for _, d := range docs {
		began := time.Now()
		if err := in.document(ctx, c, d, good); err != nil {
			return err
		}
		if in.gently {
			select {
			case <-time.After(time.Since(began)):
			case <-ctx.Done():
				return ctx.Err()
			}
		}
	}
	problems, err := in.CheckIndex(ctx, c.Name, nil)
	if err != nil || len(problems) == 0 {
		return err
	}
	if in.mend {
		err = in.RebuildIndex(ctx, c.Name, nil)
	}
	for _, p := range problems {
		in.found(c.Name, "", "the index: "+p, in.mend && err == nil)
	}
	return err
}

func (in *inspection) document(ctx context.Context, c *collection, d store.Document, good map[string]bool) error {
	if _, seen := good[d.SHA256]; !seen {
		err := in.original(d.SHA256)
		good[d.SHA256] = err == nil
		if err != nil {
			in.found(c.Name, d.Name, err.Error()+"; add the file again", false)
		}
	}
	if d.State != store.Ready {
		return nil
	}
	_, err := in.kept(ctx, d)
	if err == nil || ctx.Err() != nil {
		return ctx.Err()
	}
	if !good[d.SHA256] {
		in.found(c.Name, d.Name, err.Error()+"; add the file again", false)
		return nil
	}
	if in.mend {
		if err := in.setAside(ctx, d, err); err != nil {
			return err
		}
		in.enqueue(d)
	}
	in.found(c.Name, d.Name, err.Error()+"; it has to be read again", in.mend)
	return nil
}

// original holds a kept file to its hash.
func (in *inspection) original(sum string) error {
	f, err := os.Open(in.store.FilePath(sum))
	if errors.Is(err, os.ErrNotExist) {
		if in.hosts != nil { // it is fetched when it is needed
			return nil
		}
		return errors.New("its original is gone")
	}
	if err != nil {
		return errors.New("its original cannot be opened")
	}
	defer f.Close()
	hash := sha256.New()
	if _, err := io.Copy(hash, f); err != nil {
		return errors.New("its original cannot be read")
	}
	if hex.EncodeToString(hash.Sum(nil)) != sum {
		return errors.New("its original has been changed")
	}
	return nil
}

// strays looks for originals that belong to no document.
func (in *inspection) strays(ctx context.Context) error {
	sums, err := in.store.Sums(ctx)
	if err != nil {
		return err
	}
	wanted := map[string]bool{}
	for _, sum := range sums {
		wanted[sum] = true
	}
	entries, err := os.ReadDir(filepath.Join(in.Data, "files"))
	if err != nil {
		return fmt.Errorf("service: %w", err)
	}
	for _, e := range entries {
		info, err := e.Info()
		// A new file is not in the records yet.
		if err != nil || wanted[e.Name()] || time.Since(info.ModTime()) < time.Hour {
			continue
		}
		if in.mend {
			err = in.drop(ctx, e.Name())
		}
		in.found("", "", fmt.Sprintf("files/%s belongs to no document", e.Name()), in.mend && err == nil)
	}
	return nil
}

// checkEvery is how often everything is read through while the service runs, at a low priority.
const checkEvery = 24 * time.Hour

// watch empties bins and inspects what is kept from time to time, and logs what is damaged.
func (s *Service) watch(ctx context.Context) {
	for checked := time.Now(); ; {
		if err := s.emptyBins(ctx); err != nil && ctx.Err() == nil {
			s.Log.Error("the bin could not be emptied", "error", err)
		}
		select {
		case <-time.After(time.Hour):
		case <-ctx.Done():
			return
		}
		if time.Since(checked) < checkEvery {
			continue
		}
		checked = time.Now()
		in := &inspection{Service: s, gently: true}
		if err := in.run(ctx); err != nil && ctx.Err() == nil {
			s.Log.Error("what is kept could not be checked", "error", err)
		}
		for _, d := range in.damages {
			s.Log.Error("damaged", "collection", d.Collection, "document", d.Document, "what", d.What)
		}
		s.Log.Info("what is kept has been checked", "damaged", len(in.damages))
	}
}

// Backup writes a backup of everything while the service goes on. Originals whose hashes are in
// have are left out.
func (s *Service) Backup(ctx context.Context, w io.Writer, have []string) error {
	if err := s.fetchOriginals(ctx); err != nil {
		return err
	}
	dir, err := s.store.Snapshot(ctx)
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	left := map[string]bool{}
	for _, sum := range have {
		left[sum] = true
	}
	return backup.Write(w, dir, s.Version, left)
}
