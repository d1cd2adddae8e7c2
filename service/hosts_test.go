package service

import (
	"bytes"
	"context"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"jardinet/backup"
	"jardinet/cluster"
	"jardinet/natsserver"
	"jardinet/pdfium"
	"jardinet/store"
)

// together starts so many services that are one cluster, with a NATS server of their own.
func together(t *testing.T, names ...string) (hosts []*Service, options func(name, dir string) Options) {
	t.Helper()
	server, err := natsserver.Start(natsserver.Options{Name: "only", Dir: t.TempDir(), Listen: "127.0.0.1:0"})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(server.Stop)
	options = func(name, dir string) Options {
		return Options{Data: dir, Version: "test", Scripts: []string{"none"}, PDF: pdfium.Options{FileSize: 4 << 20}, Cluster: &cluster.Options{
			URL: server.URL(), Host: name, Roles: []cluster.Role{cluster.Answer, cluster.Intake, cluster.Encode}, Copies: 1, Shards: 4, Replicas: 2, Version: "test",
		}}
	}
	for _, name := range names {
		hosts = append(hosts, openHost(t, options(name, t.TempDir())))
	}
	return hosts, options
}

func openHost(t *testing.T, o Options) *Service {
	t.Helper()
	s, err := Open(t.Context(), o)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s
}

// whole waits until all documents of a collection are ready with all vectors, as a service sees them.
func whole(t *testing.T, s *Service, n int) {
	t.Helper()
	ctx, cancel := context.WithTimeout(t.Context(), 2*time.Minute)
	defer cancel()
	events, stop := s.Listen()
	defer stop()
	for {
		docs, err := s.Documents(ctx, "garden")
		if err != nil {
			t.Fatal(err)
		}
		left := slices.DeleteFunc(docs, func(d Document) bool { return d.State == string(store.Ready) && d.Encoded == d.Passages })
		if len(left) == 0 && len(docs) == n {
			return
		}
		select {
		case <-events:
		case <-ctx.Done():
			t.Fatalf("these are not whole: %+v", left)
		}
	}
}

// found returns the ten best passages for a question with their scores.
func found(t *testing.T, s *Service, question string) (out []string) {
	t.Helper()
	got, err := s.Search(t.Context(), "garden", question, 10, Scope{})
	if err != nil {
		t.Fatal(err)
	}
	if got.LeftOut != nil {
		t.Errorf("%+v is left out", got.LeftOut)
	}
	for _, f := range got.Passages {
		out = append(out, fmt.Sprintf("%s p. %v %.17g %.30s", f.Document, f.Pages, f.Score, f.Text))
	}
	return out
}

var askedTogether = []string{
	"How deep is the seed vault?", "highest gust", "Who may drive the train?", "how many days of annual leave", "quarantene of new plants",
	`"seed vault" -railway`, "What happens when the boiler fails?", "Wie lange dauert die Quarantäne?",
}

// TestTogether lets three hosts take in documents and holds what each finds to what one alone finds, to
// the last digit of the scores.
func TestTogether(t *testing.T) {
	names := []string{"staff-handbook.pdf", "railway-rule-book.pdf", "seed-vault-manual.pdf", "storm-damage-report.pdf", "quarantine-policy-2024.pdf"}
	alone := open(t, t.TempDir())
	create(t, alone, "garden")
	add(t, alone, "garden", names...)
	hosts, options := together(t, "a", "b", "c")
	create(t, hosts[0], "garden")
	for i, name := range names {
		h := hosts[i%3]
		if err := hosts[0].Done(t.Context()); err != nil {
			t.Fatal(err)
		}
		add(t, h, "garden", name)
	}
	for _, s := range append(hosts, alone) {
		whole(t, s, len(names))
	}
	for _, question := range askedTogether {
		want := found(t, alone, question)
		for i, h := range hosts {
			if got := found(t, h, question); !slices.Equal(got, want) {
				t.Errorf("%s: host %d finds\n%s\none alone finds\n%s", question, i, strings.Join(got, "\n"), strings.Join(want, "\n"))
			}
		}
	}
	if a, b := ask(t, hosts[2], "garden", askedTogether[0]), ask(t, alone, "garden", askedTogether[0]); a.Text != b.Text || a.LeftOut != nil {
		t.Errorf("together they answer %q, alone %q", a.Text, b.Text)
	}
	if _, err := hosts[2].Picture(t.Context(), "garden", names[0], 1, 40); err != nil {
		t.Errorf("a page of a file that another host took in cannot be drawn: %v", err)
	}
	t.Run("removed", func(t *testing.T) { removedTogether(t, hosts) })
	t.Run("described", func(t *testing.T) { describedTogether(t, hosts) })
	t.Run("backup", func(t *testing.T) { backedUpTogether(t, hosts[1], len(names)-1) })
	t.Run("one fewer", func(t *testing.T) {
		before := found(t, hosts[0], askedTogether[1])
		dir := hosts[1].Data
		if err := hosts[1].Close(); err != nil {
			t.Fatal(err)
		}
		if got := found(t, hosts[0], askedTogether[1]); !slices.Equal(got, before) {
			t.Errorf("without one host they find %q, with it %q", got, before)
		}
		back := openHost(t, options("b", dir))
		if got := found(t, back, askedTogether[1]); !slices.Equal(got, before) {
			t.Errorf("once it is back it finds %q, not %q", got, before)
		}
	})
}

// removedTogether holds that no host finds what another one removed.
func removedTogether(t *testing.T, hosts []*Service) {
	if _, err := hosts[1].Remove(t.Context(), "garden", "storm-damage-report.pdf", false); err != nil {
		t.Fatal(err)
	}
	if err := hosts[1].Done(t.Context()); err != nil {
		t.Fatal(err)
	}
	for i, h := range hosts {
		for _, line := range found(t, h, "highest gust") {
			if strings.HasPrefix(line, "storm-damage-report.pdf") {
				t.Errorf("host %d finds %s", i, line)
			}
		}
	}
}

func describedTogether(t *testing.T, hosts []*Service) {
	all, err := hosts[0].Hosts(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	if len(all.Hosts) != 3 || len(all.Shards) != 4 || all.Alone || all.Problem != "" || all.Here != "a" {
		t.Errorf("the hosts are %+v", all)
	}
	for _, s := range all.Shards {
		if len(s.Hosts) < 2 {
			t.Errorf("shard %d is on %q", s.Shard, s.Hosts)
		}
	}
}

// backedUpTogether takes a backup from one host and starts a host alone from it.
func backedUpTogether(t *testing.T, from *Service, n int) {
	dir := t.TempDir()
	path := filepath.Join(dir, "all.tar")
	f, err := os.Create(path)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	if err := from.Backup(t.Context(), f, nil); err != nil {
		t.Fatal(err)
	}
	restored := filepath.Join(dir, "restored")
	if _, err := backup.Restore(restored, path); err != nil {
		t.Fatal(err)
	}
	s := open(t, restored)
	if docs := settle(t, s, "garden"); len(docs) != n {
		t.Errorf("%d documents are restored of %d", len(docs), n)
	}
	if !slices.Equal(found(t, s, "Who may drive the train?"), found(t, from, "Who may drive the train?")) {
		t.Error("what was restored finds something else")
	}
}

// TestFoundedFromRecords lets a host that was alone found a cluster with what it has, another one join,
// and the first be alone again.
func TestFoundedFromRecords(t *testing.T) {
	dir := t.TempDir()
	before := open(t, dir)
	create(t, before, "garden")
	add(t, before, "garden", "seed-vault-manual.pdf")
	whole(t, before, 1)
	want := found(t, before, askedTogether[0])
	if err := before.Close(); err != nil {
		t.Fatal(err)
	}
	hosts, options := together(t)
	a := openHost(t, options("a", dir))
	for { // what is not in the shards yet is said to be left out
		got, err := a.Search(t.Context(), "garden", askedTogether[0], 10, Scope{})
		if err != nil {
			t.Fatal(err)
		}
		if got.LeftOut == nil {
			break
		}
		if err := a.store.Reached(t.Context(), a.store.Number()+1); err != nil {
			t.Fatal(err)
		}
	}
	b := openHost(t, options("b", t.TempDir()))
	hosts = append(hosts, a, b)
	for i, h := range hosts {
		if got := found(t, h, askedTogether[0]); !slices.Equal(got, want) {
			t.Errorf("host %d finds %q, before it was %q", i, got, want)
		}
	}
	var picture []byte
	picture, err := b.Picture(t.Context(), "garden", "seed-vault-manual.pdf", 1, 40)
	if err != nil || !bytes.HasPrefix(picture, []byte("\x89PNG")) {
		t.Errorf("the new host draws %d bytes, error %v", len(picture), err)
	}
	if err := a.Close(); err != nil {
		t.Fatal(err)
	}
	if _, err := Open(t.Context(), Options{Data: dir}); err == nil || !strings.Contains(err.Error(), "--leave-cluster") {
		t.Errorf("to start a host of a cluster without it gives %v", err)
	}
	again, err := Open(t.Context(), Options{Data: dir, Scripts: []string{"none"}, LeaveCluster: true})
	if err != nil {
		t.Fatal(err)
	}
	defer again.Close()
	if got := found(t, again, askedTogether[0]); !slices.Equal(got, want) {
		t.Errorf("alone again it finds %q, not %q", got, want)
	}
}
