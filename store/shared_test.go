package store

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"strings"
	"sync"
	"testing"

	"jardinet/access"
)

// An order is the one order of changes, in memory. Each is written down and read again.
type order struct {
	mu      sync.Mutex
	changes [][]byte
	grown   chan struct{} // closed when one more is there
	refused int           // proposals that came too late
}

func (o *order) propose(_ context.Context, after uint64, c *Change) (uint64, error) {
	o.mu.Lock()
	defer o.mu.Unlock()
	if after != uint64(len(o.changes)) {
		o.refused++
		return 0, ErrBehind
	}
	data, err := c.Encode()
	if err != nil {
		return 0, err
	}
	o.changes = append(o.changes, data)
	close(o.grown)
	o.grown = make(chan struct{})
	return uint64(len(o.changes)), nil
}

// follow applies the changes to a store until ctx is done.
func (o *order) follow(ctx context.Context, t *testing.T, s *Store) {
	for next := 0; ctx.Err() == nil; {
		o.mu.Lock()
		grown, changes := o.grown, o.changes
		o.mu.Unlock()
		if next == len(changes) {
			select {
			case <-grown:
			case <-ctx.Done():
			}
			continue
		}
		c, err := DecodeChange(changes[next])
		if err == nil {
			err = s.Apply(ctx, uint64(next+1), c)
		}
		if err != nil {
			if ctx.Err() == nil {
				t.Error(err)
			}
			return
		}
		next++
	}
}

// share returns stores that share an order.
func share(t *testing.T, n int) (stores []*Store, o *order) {
	t.Helper()
	o = &order{grown: make(chan struct{})}
	ctx, cancel := context.WithCancel(t.Context())
	var following sync.WaitGroup
	for range n {
		s := open(t, t.TempDir())
		if err := s.Join(ctx, "test", 0); err != nil {
			t.Fatal(err)
		}
		if err := s.Share(ctx, o.propose); err != nil {
			t.Fatal(err)
		}
		stores = append(stores, s)
		following.Go(func() { o.follow(ctx, t, s) })
	}
	t.Cleanup(func() { cancel(); following.Wait() })
	return stores, o
}

// dump returns all rows of all tables.
func dump(t *testing.T, s *Store) map[string][]string {
	t.Helper()
	tables, err := s.lines(t.Context(), "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite%' ORDER BY name")
	if err != nil {
		t.Fatal(err)
	}
	out := map[string][]string{}
	for _, table := range tables {
		rows, err := s.db.QueryContext(t.Context(), "SELECT * FROM "+table)
		if err != nil {
			t.Fatal(err)
		}
		columns, err := rows.Columns()
		if err != nil {
			t.Fatal(err)
		}
		for rows.Next() {
			row, to := make([]any, len(columns)), make([]any, len(columns))
			for i := range row {
				to[i] = &row[i]
			}
			if err := rows.Scan(to...); err != nil {
				t.Fatal(err)
			}
			out[table] = append(out[table], fmt.Sprintf("%q", row))
		}
		rows.Close()
		slices.Sort(out[table])
	}
	return out
}

// TestStoresStayEqual has three hosts write many kinds of records at once, and finds the same on all.
func TestStoresStayEqual(t *testing.T) {
	stores, o := share(t, 3)
	ctx := t.Context()
	c, err := stores[0].CreateCollection(ctx, "garden", map[string]int{"length": 200})
	if err != nil {
		t.Fatal(err)
	}
	if err := stores[0].SetHook(ctx, c.ID, "mail", []string{"document.ready", "document.removed"}); err != nil {
		t.Fatal(err)
	}
	var writers sync.WaitGroup
	for i, s := range stores {
		writers.Go(func() {
			if err := s.Reached(ctx, stores[0].Number()); err != nil {
				t.Error(err)
				return
			}
			for n := range 8 {
				if err := writeAll(ctx, s, c, fmt.Sprintf("%d-%d", i, n)); err != nil {
					t.Errorf("host %d: %v", i, err)
				}
			}
		})
	}
	writers.Wait()
	last := uint64(len(o.changes))
	want := map[string][]string(nil)
	for i, s := range stores {
		if err := s.Reached(ctx, last); err != nil {
			t.Fatal(err)
		}
		got := dump(t, s)
		if want == nil {
			want = got
		}
		for table := range want {
			if !reflect.DeepEqual(got[table], want[table]) {
				t.Errorf("on host %d %s is\n%s\nand on host 0\n%s", i, table, strings.Join(got[table], "\n"), strings.Join(want[table], "\n"))
			}
		}
	}
	if n := len(want["documents"]); n != 24 {
		t.Errorf("there are %d documents", n)
	}
	if n := len(want["audit"]); n != 24 {
		t.Errorf("the audit has %d entries", n)
	}
	if len(want["deliveries"]) == 0 {
		t.Error("nobody is told of the documents")
	}
	if o.refused == 0 {
		t.Error("no two hosts wrote at once")
	}
}

// writeAll writes records of most kinds about one document.
func writeAll(ctx context.Context, s *Store, c *Collection, name string) error {
	sum, size, err := s.Keep(strings.NewReader(name), 1000)
	if err != nil {
		return err
	}
	d, _, err := s.AddDocument(ctx, c, name, sum, size)
	if err = errors.Join(err, s.Release(sum)); err != nil {
		return err
	}
	d.Pages, d.Labels, d.Scores = 2, []string{"i", "1"}, []int{100, 90}
	vectors := map[VectorKey][]int8{KeyOf("e", name): {1, -2}, KeyOf("e", name+"2"): {3, 4}}
	owner := &Principal{Name: name, Kind: "person", Secret: []byte{}, Rights: map[string]int{c.ID: 2}}
	conversation, err := s.AddTurn(ctx, c.ID, "", "owner", "How deep?", []byte("{}"))
	if err != nil {
		return err
	}
	if _, err := s.AddTurn(ctx, c.ID, conversation, "owner", "And how wide?", []byte("{}")); err != nil {
		return err
	}
	if _, err := s.ChangeSet(ctx, c.ID, "set", []SetQuestion{{ID: name, Data: []byte(`{"q":1}`)}}, nil, false); err != nil {
		return err
	}
	err = errors.Join(
		s.SetState(ctx, d.ID, Reading, ""),
		s.SetRead(ctx, d, [][]byte{[]byte("first " + name), []byte("second")}),
		s.KeepVectors(ctx, vectors),
		s.SetReady(ctx, map[string]Counts{d.ID: {3, 1}}, nil),
		s.SetTags(ctx, c.ID, name, []string{"b", "a"}),
		s.SetFields(ctx, c.ID, name, map[string]string{"author": "Wren", "year": "2024"}),
		s.SetAbbreviations(ctx, d.ID, [][2]string{{"SOP", "standard operating procedure"}}),
		s.CountUnknown(ctx, c.ID, "What is a zorb?", "zorb"),
		s.Spend(ctx, c.ID, "2026-11-30", Spending{3, .1}),
		s.AddPrincipal(ctx, owner),
		s.AddSession(ctx, []byte(name), owner.ID),
		s.AddAudit(ctx, []*access.Entry{{Who: name, Operation: "ask"}}),
		s.SetCorrections(ctx, name, []byte("{}")),
		s.SetDigest(ctx, d.ID, 1, []byte("digest")),
		s.AddReport(ctx, c.ID, "Why?", map[string]string{"said": name}),
	)
	if rand.IntN(3) == 0 {
		_, binned := s.PutIntoBin(ctx, c.ID, name)
		err = errors.Join(err, binned)
	}
	return err
}

// TestChangesNameTheirDocuments holds that whoever follows the changes learns which documents they
// are about.
func TestChangesNameTheirDocuments(t *testing.T) {
	stores, o := share(t, 1)
	s, ctx := stores[0], t.Context()
	c, err := s.CreateCollection(ctx, "garden", "{}")
	if err != nil {
		t.Fatal(err)
	}
	d, _, err := s.AddDocument(ctx, c, "a.pdf", "sum", 1)
	if err != nil {
		t.Fatal(err)
	}
	for name, do := range map[string]func() error{
		"state":   func() error { return s.SetState(ctx, d.ID, Reading, "") },
		"read":    func() error { return s.SetRead(ctx, d, nil) },
		"scores":  func() error { return s.SetScores(ctx, d.ID, []int{1}) },
		"keep":    func() error { return s.KeepReady(ctx, d.ID, "") },
		"encoded": func() error { return s.SetEncoded(ctx, map[string]int{d.ID: 1}) },
		"bin":     func() error { _, err := s.PutIntoBin(ctx, c.ID, "a.pdf"); return err },
		"out":     func() error { return s.TakeOut(ctx, d.ID, Ready) },
	} {
		if err := do(); err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		last, err := DecodeChange(o.changes[len(o.changes)-1])
		if err != nil {
			t.Fatal(err)
		}
		if got := last.Documents(); !slices.Equal(got, []string{d.ID}) || !last.Touches("documents") || last.Touches("tags") {
			t.Errorf("%s is about %q", name, got)
		}
	}
}

func TestDivergedIsNoticed(t *testing.T) {
	stores, _ := share(t, 1)
	ctx := t.Context()
	change := &Change{Schema: len(schema), Steps: []Step{{SQL: "DELETE FROM collections WHERE name = ?", Args: []any{"garden"}, Rows: 1}}}
	if err := stores[0].Apply(ctx, 1, change); !errors.Is(err, ErrDiverged) {
		t.Errorf("a change that does nothing here and something there gives %v", err)
	}
	change.Schema++
	if err := stores[0].Apply(ctx, 1, change); err == nil || !strings.Contains(err.Error(), "upgrade this host") {
		t.Errorf("a change of a newer program gives %v", err)
	}
}

func TestChangeIsWrittenDown(t *testing.T) {
	want := &Change{Schema: 3, Dropped: []string{"abc"}, Steps: []Step{
		{SQL: "INSERT INTO t VALUES (?, ?, ?, ?, ?, ?)", Args: []any{int64(1<<62 + 1), .1, true, "text\x00", []byte{0, 255}, nil}, Rows: 1},
		{SQL: "DELETE FROM t", Rows: 7},
		{SQL: "INSERT INTO t VALUES (?)", Args: []any{[]byte{}}, Rows: 1},
	}}
	data, err := want.Encode()
	if err != nil {
		t.Fatal(err)
	}
	got, err := DecodeChange(data)
	if err != nil {
		t.Fatal(err)
	}
	if fmt.Sprintf("%#v", got) != fmt.Sprintf("%#v", want) {
		t.Errorf("it is %#v\nnot %#v", got, want)
	}
	for n := range data {
		if _, err := DecodeChange(data[:n]); err == nil {
			t.Errorf("cut after %d bytes it is read", n)
		}
	}
}

// TestDroppedEverywhere holds that a file is gone on every host once nobody has it.
func TestDroppedEverywhere(t *testing.T) {
	stores, o := share(t, 2)
	c := create(t, stores[0], "garden")
	d, _ := add(t, stores[0], c, "a.pdf", "a page")
	if err := stores[1].Reached(t.Context(), uint64(len(o.changes))); err != nil {
		t.Fatal(err)
	}
	sum, _ := keep(t, stores[1], "a page") // as it is fetched
	if err := stores[1].Release(sum); err != nil {
		t.Fatal(err)
	}
	if err := stores[0].RemoveDocument(t.Context(), d.ID); err != nil {
		t.Fatal(err)
	}
	if _, err := stores[0].Drop(t.Context(), sum); err != nil {
		t.Fatal(err)
	}
	for i, s := range stores {
		if err := s.Reached(t.Context(), uint64(len(o.changes))); err != nil {
			t.Fatal(err)
		}
		if left, _ := filepath.Glob(s.FilePath("*")); len(left) > 0 {
			t.Errorf("on host %d %s is left", i, left)
		}
	}
}

// TestAddedWhileDropped holds that a content which one host drops while another takes it in again
// stays where it was taken in.
func TestAddedWhileDropped(t *testing.T) {
	stores, o := share(t, 2)
	c := create(t, stores[0], "garden")
	if err := stores[1].Reached(t.Context(), 1); err != nil {
		t.Fatal(err)
	}
	sum, size := keep(t, stores[1], "a page")
	if _, err := stores[0].Drop(t.Context(), sum); err != nil {
		t.Fatal(err)
	}
	if err := stores[1].Reached(t.Context(), uint64(len(o.changes))); err != nil {
		t.Fatal(err)
	}
	if _, _, err := stores[1].AddDocument(t.Context(), c, "a.pdf", sum, size); err != nil {
		t.Fatal(err)
	}
	if err := stores[1].Release(sum); err != nil {
		t.Fatal(err)
	}
	if _, err := os.Stat(stores[1].FilePath(sum)); err != nil {
		t.Error(err)
	}
}
