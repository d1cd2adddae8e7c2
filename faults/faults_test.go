package faults

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"
)

// The programs under test have a clock that can be wrong. The next version changes the records' form.
var program, next string

func TestMain(m *testing.M) {
	if os.Getenv("JARDINET_FAULTS") == "" {
		fmt.Println("the faults of a cluster are tried by: make cluster-test")
		os.Exit(0)
	}
	dir, err := os.MkdirTemp("", "jardinet-faults-")
	if err == nil {
		program, next = filepath.Join(dir, "jardinet"), filepath.Join(dir, "jardinet-next")
		err = buildBoth(dir)
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	code := m.Run()
	os.RemoveAll(dir)
	os.Exit(code)
}

// Times of one trial: the load by itself, while something is wrong, and after it is mended.
const (
	before = 4 * time.Second
	during = 14 * time.Second
	after  = 6 * time.Second
)

// A fault is something that goes wrong, and what is to hold while it does.
type fault struct {
	name   string
	begin  func(b *testbed, l *load)
	during func(b *testbed, l *load) // is looked at in the middle
	mend   func(b *testbed, l *load)
}

// answersWithin is how long a question may wait for an answer from some host, whatever is wrong.
const answersWithin = 5 * time.Second

// TestFaults tries one fault after another on one cluster of three hosts and prints what it saw.
func TestFaults(t *testing.T) {
	b := newTestbed(t, 3)
	b.hosts[2].smallDisk("400")
	b.found()
	b.settleCollections()
	b.try("three hosts", faults())
}

// try tries faults one after another, each under load, and prints what it saw.
func (b *testbed) try(hosts string, all []fault) {
	t := b.t
	var table []string
	for i, f := range all {
		ok := t.Run(f.name, func(t *testing.T) {
			b.t = t
			table = append(table, fmt.Sprintf("%-38s %s", f.name, b.tryOne(uint64(i+1), f)))
		})
		if !ok {
			table = append(table, fmt.Sprintf("%-38s FAILED", f.name))
		}
		b.t = t
	}
	fmt.Printf("\nFaults of a cluster of %s, each under load:\n", hosts)
	for _, line := range table {
		fmt.Println("  " + line)
	}
}

func (b *testbed) tryOne(seed uint64, f fault) (summary string) {
	l := b.startLoad(seed)
	time.Sleep(before)
	f.begin(b, l)
	time.Sleep(during / 2)
	if f.during != nil {
		f.during(b, l)
	}
	time.Sleep(during / 2)
	if f.mend != nil {
		f.mend(b, l)
	}
	for _, h := range b.hosts {
		b.eventually(h.name+" is ready again", time.Minute, h.isReady)
		l.avoid(h, false)
	}
	time.Sleep(after)
	summary = l.end()
	if l.longest > answersWithin {
		b.t.Errorf("a question waited %s for an answer from any host:\n%s", l.longest, strings.Join(l.slowest, "\n"))
	}
	return summary
}

// restart starts a host's program again.
func (h *host) restart() {
	h.bed.t.Helper()
	h.start(h.address())
	h.bed.eventually(h.name+" is back", time.Minute, h.isReady)
}

func faults() []fault {
	return []fault{
		{name: "nothing", begin: func(*testbed, *load) {}},
		{
			name:  "a host is killed",
			begin: func(b *testbed, l *load) { b.hosts[1].serve.end(syscall.SIGKILL) },
			mend:  func(b *testbed, l *load) { b.hosts[1].restart() },
		},
		{
			name:  "a host is stopped for an upgrade",
			begin: func(b *testbed, l *load) { b.hosts[0].serve.end(syscall.SIGTERM) },
			mend:  func(b *testbed, l *load) { b.hosts[0].restart() },
		},
		{
			name:  "a host is paused",
			begin: func(b *testbed, l *load) { b.hosts[2].serve.signal(syscall.SIGSTOP) },
			mend:  func(b *testbed, l *load) { b.hosts[2].serve.signal(syscall.SIGCONT) },
		},
		{
			name:  "a NATS server is lost",
			begin: func(b *testbed, l *load) { b.hosts[b.leader()].nats.end(syscall.SIGKILL) },
			mend:  func(b *testbed, l *load) { b.hosts[b.lost()].startNATS() },
		},
		{
			name: "a NATS server's disk is lost",
			begin: func(b *testbed, l *load) {
				h := b.hosts[b.leader()]
				h.nats.end(syscall.SIGKILL)
				h.forgetNATS()
				h.startNATS()
			},
		},
		{
			name:   "a host and its NATS server are cut off",
			begin:  func(b *testbed, l *load) { b.hosts[1].cut(true) },
			during: minorityRefuses,
			mend:   func(b *testbed, l *load) { b.hosts[1].cut(false) },
		},
		{
			name: "a host's network is slow",
			begin: func(b *testbed, l *load) {
				b.command("tc", "qdisc", "add", "dev", b.hosts[2].link("a"), "root", "tbf", "rate", "400kbit", "burst", "8kb", "latency", "400ms")
			},
			mend: func(b *testbed, l *load) { b.command("tc", "qdisc", "del", "dev", b.hosts[2].link("a"), "root") },
		},
		{name: "a host is slow", begin: func(b *testbed, l *load) { b.hosts[0].slow(true) }, mend: func(b *testbed, l *load) { b.hosts[0].slow(false) }},
		{
			name:   "a host's disk is full",
			begin:  func(b *testbed, l *load) { b.hosts[2].fill() },
			during: othersTakeIn,
			mend:   func(b *testbed, l *load) { b.hosts[2].makeRoom() },
		},
		{
			name: "two hosts' clocks are wrong",
			begin: func(b *testbed, l *load) {
				for i, wrong := range []int{3600, -7200} {
					h := b.hosts[i]
					h.serve.end(syscall.SIGTERM)
					h.clock = wrong
					h.restart()
				}
			},
			mend: func(b *testbed, l *load) {
				for _, h := range b.hosts[:2] {
					h.serve.end(syscall.SIGTERM)
					h.clock = 0
					h.restart()
				}
			},
		},
		{
			name:   "all hosts are upgraded, one by one",
			begin:  func(b *testbed, l *load) { b.hosts[2].upgrade() },
			during: newOneWaits,
			mend: func(b *testbed, l *load) {
				b.hosts[1].upgrade()
				b.hosts[0].upgrade()
			},
		},
	}
}

// leader returns which host's NATS server leads the order of changes.
func (b *testbed) leader() int {
	for i, h := range b.natsServers() {
		if h.leads() {
			return i
		}
	}
	return 0
}

// lost returns the host whose NATS server does not run.
func (b *testbed) lost() int {
	for i, h := range b.natsServers() {
		select {
		case <-h.nats.over:
			return i
		default:
		}
	}
	return 0
}

// newOneWaits holds that a host which is newer than others makes no changes, says why, and answers.
func newOneWaits(b *testbed, l *load) {
	ctx, cancel := context.WithTimeout(context.Background(), giveUp)
	defer cancel()
	_, err := b.hosts[2].Describe(ctx, register(0), "written where others cannot follow")
	if !isRefusal(err) || !strings.Contains(err.Error(), "upgraded") {
		b.t.Errorf("a host that is newer than others says %v when it is to change something", err)
	}
	if err := b.hosts[2].isReady(); err != nil {
		b.t.Errorf("a host that is newer than others does not answer: %v", err)
	}
}

// minorityRefuses holds that a host that is cut off makes no changes, and says why.
func minorityRefuses(b *testbed, l *load) {
	h := b.hosts[1]
	l.avoid(h, true)
	ctx, cancel := context.WithTimeout(context.Background(), giveUp)
	defer cancel()
	_, err := h.Describe(ctx, register(0), "written where nobody sees it")
	if !isRefusal(err) || !strings.Contains(err.Error(), "cut off") {
		b.t.Errorf("a host that is cut off says %v when it is to change something", err)
	}
	b.eventually("a host that is cut off is not ready", 10*time.Second, func() error {
		if h.isReady() == nil {
			return fmt.Errorf("it is")
		}
		return nil
	})
	again, stop := context.WithTimeout(context.Background(), 10*time.Second)
	defer stop()
	all, err := h.Hosts(again)
	if err != nil || all.Problem == "" {
		b.t.Errorf("a host that is cut off tells of the others %+v, error %v", all, err)
	}
}

// othersTakeIn holds that a host whose disk is full says so and refuses what it cannot keep.
func othersTakeIn(b *testbed, l *load) {
	h := b.hosts[2]
	ctx, cancel := context.WithTimeout(context.Background(), giveUp)
	defer cancel()
	if _, err := h.Describe(ctx, register(0), "written where there is no room"); err == nil {
		b.t.Error("a host whose disk is full takes a change")
	}
	l.avoid(h, true)
}
