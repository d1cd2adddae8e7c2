package store

import (
	"database/sql"
	"errors"
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"testing"
)

// TestShards takes documents into a shard and holds what it is told to let go of: what was removed, and
// what is gone altogether, but nothing of a collection that is gone.
func TestShards(t *testing.T) {
	s, ctx := open(t, t.TempDir()), t.Context()
	c, err := s.CreateCollection(ctx, "garden", "{}")
	if err != nil {
		t.Fatal(err)
	}
	taken := map[string]Taken{}
	var ids []string
	for _, name := range []string{"a", "b", "c"} {
		d, _, err := s.AddDocument(ctx, c, name, "sum of "+name, 1)
		if err == nil {
			err = s.SetRead(ctx, d, nil)
		}
		if err != nil {
			t.Fatal(err)
		}
		ids, taken[d.ID] = append(ids, d.ID), Taken{Revision: 1, Counts: Counts{3, 3}}
	}
	if stale, err := s.Stale(ctx); err != nil || len(stale) != 3 {
		t.Errorf("%d documents are to be taken in, error %v", len(stale), err)
	}
	sh := &Shard{Collection: c.ID, Generation: 1}
	if err := s.PublishShard(ctx, sh, 0, taken, nil, nil); err != nil {
		t.Fatal(err)
	}
	if err := s.PublishShard(ctx, sh, 0, nil, nil, nil); !errors.Is(err, ErrOutdated) {
		t.Errorf("who comes second is told %v", err)
	}
	if _, err := s.PutIntoBin(ctx, c.ID, "a"); err != nil {
		t.Fatal(err)
	}
	if err := s.RemoveDocument(ctx, ids[1]); err != nil {
		t.Fatal(err)
	}
	names := func(collection string) string {
		all, err := s.Dead(ctx, collection)
		if err != nil {
			t.Fatal(err)
		}
		var out []string
		for _, d := range all {
			out = append(out, d.Name)
		}
		return strings.Join(out, " ")
	}
	if got := names(c.ID); got != "a b" || names("") != got || names("other") != "" {
		t.Errorf("dead are %q", got)
	}
	sh.Generation = 2
	if err := s.PublishShard(ctx, sh, 1, nil, nil, ids[:2]); err != nil {
		t.Fatal(err)
	}
	if got := names(""); got != "" {
		t.Errorf("after they were let go of %q are dead", got)
	}
	if err := s.RemoveCollection(ctx, c.ID); err != nil {
		t.Fatal(err)
	}
	if got := names(""); got != "" {
		t.Errorf("of a collection that is gone %q are dead", got)
	}
}

// TestUpgradeWithShards opens records of the version before, one of whose shards has a document that is
// gone: that collection's shards begin anew, and another's stay.
func TestUpgradeWithShards(t *testing.T) {
	dir, ctx := t.TempDir(), t.Context()
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, Records))
	if err != nil {
		t.Fatal(err)
	}
	const before = `
		INSERT INTO collections (id, name, created, recipe) VALUES ('g', 'garden', '2026-11-01T00:00:00Z', '{}'), ('h', 'house', '2026-11-01T00:00:00Z', '{}');
		INSERT INTO shards (collection, shard, generation, manifest, totals) VALUES ('g', 0, 4, '{"x":1}', '{}'), ('h', 0, 7, '{"x":1}', '{}');
		INSERT INTO indexed (document, collection, shard) VALUES ('gone', 'g', 0);`
	steps := append(slices.Clone(schema[:len(schema)-1]), before, fmt.Sprintf("PRAGMA user_version = %d", len(schema)-1))
	for _, step := range steps {
		if _, err := db.ExecContext(ctx, step); err != nil {
			t.Fatal(err)
		}
	}
	if err := db.Close(); err != nil {
		t.Fatal(err)
	}
	s := open(t, dir)
	all, err := s.Shards(ctx, "")
	if err != nil || len(all) != 2 {
		t.Fatalf("there are %d shards, error %v", len(all), err)
	}
	for _, one := range all {
		if anew := one.Collection == "g"; anew != (len(one.Manifest) == 0) || anew != (one.Generation == 5) {
			t.Errorf("after the upgrade there is %+v", one)
		}
	}
	if _, err := s.Dead(ctx, ""); err != nil {
		t.Error(err)
	}
	if _, err := s.Snapshot(ctx); err != nil {
		t.Error(err)
	}
}
