package faults

import (
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"
)

// program is the program under test, with a clock that can be wrong.
var program string

func TestMain(m *testing.M) {
	if os.Getenv("JARDINET_FAULTS") == "" {
		fmt.Println("the faults of a cluster are tried by: make cluster-test")
		os.Exit(0)
	}
	dir, err := os.MkdirTemp("", "jardinet-faults-")
	if err == nil {
		program = filepath.Join(dir, "jardinet")
		err = build(dir)
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	code := m.Run()
	os.RemoveAll(dir)
	os.Exit(code)
}

// build builds the program with a package time that adds so many seconds to what the clock says as
// JARDINET_CLOCK says: there is no other way to let one process alone have another time.
func build(dir string) error {
	root, err := exec.Command("go", "env", "GOROOT").Output()
	if err != nil {
		return err
	}
	source := filepath.Join(strings.TrimSpace(string(root)), "src", "time", "time.go")
	code, err := os.ReadFile(source)
	if err != nil {
		return err
	}
	const now = "func Now() Time {\n\tsec, nsec, mono := runtimeNow()\n"
	wrong := strings.Replace(string(code), now, now+"\tsec += wrongBy()\n", 1)
	if wrong == string(code) {
		return fmt.Errorf("%s is not as it was: %q is not in it", source, now)
	}
	wrong += `
var wrong, asked int64

// wrongBy is how many seconds the clock is wrong by.
func wrongBy() int64 {
	if asked == 0 {
		text, _ := syscall.Getenv("JARDINET_CLOCK")
		var n, sign int64 = 0, 1
		for _, c := range text {
			if c == '-' {
				sign = -1
			} else {
				n = n*10 + int64(c-'0')
			}
		}
		wrong, asked = sign*n, 1
	}
	return wrong
}
`
	wrong = strings.Replace(wrong, "import (\n", "import (\n\t\"syscall\"\n", 1)
	changed := filepath.Join(dir, "time.go")
	if err := os.WriteFile(changed, []byte(wrong), 0o600); err != nil {
		return err
	}
	overlay := filepath.Join(dir, "overlay.json")
	if err := os.WriteFile(overlay, fmt.Appendf(nil, `{"Replace": {%q: %q}}`, source, changed), 0o600); err != nil {
		return err
	}
	cmd := exec.Command("go", "build", "-trimpath", "-overlay", overlay, "-o", program, "jardinet/cmd/jardinet")
	cmd.Env = append(os.Environ(), "CGO_ENABLED=0")
	if out, err := cmd.CombinedOutput(); err != nil {
		return fmt.Errorf("build: %w: %s", err, out)
	}
	return nil
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
	var table []string
	for i, f := range faults() {
		ok := t.Run(f.name, func(t *testing.T) {
			b.t = t
			l := b.startLoad(uint64(i + 1))
			time.Sleep(before)
			f.begin(b, l)
			time.Sleep(during / 2)
			if f.during != nil {
				f.during(b, l)
			}
			time.Sleep(during / 2)
			f.mend(b, l)
			for _, h := range b.hosts {
				b.eventually(h.name+" is ready again", time.Minute, h.isReady)
				l.avoid(h, false)
			}
			time.Sleep(after)
			summary := l.end()
			if l.longest > answersWithin {
				t.Errorf("a question waited %s for an answer from any host:\n%s", l.longest, strings.Join(l.slowest, "\n"))
			}
			table = append(table, fmt.Sprintf("%-34s %s", f.name, summary))
		})
		if !ok {
			table = append(table, fmt.Sprintf("%-34s FAILED", f.name))
		}
		b.t = t
	}
	fmt.Println("\nFaults of a cluster of three hosts, each under load:")
	for _, line := range table {
		fmt.Println("  " + line)
	}
}

func faults() []fault {
	restart := func(b *testbed, h *host) {
		b.t.Helper()
		h.start(h.address())
		b.eventually(h.name+" is back", time.Minute, h.isReady)
	}
	return []fault{
		{name: "nothing", begin: func(*testbed, *load) {}, mend: func(*testbed, *load) {}},
		{
			name:  "a host is killed",
			begin: func(b *testbed, l *load) { b.hosts[1].serve.end(syscall.SIGKILL) },
			mend:  func(b *testbed, l *load) { restart(b, b.hosts[1]) },
		},
		{
			name:  "a host is stopped for an upgrade",
			begin: func(b *testbed, l *load) { b.hosts[0].serve.end(syscall.SIGTERM) },
			mend:  func(b *testbed, l *load) { restart(b, b.hosts[0]) },
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
					restart(b, h)
				}
			},
			mend: func(b *testbed, l *load) {
				for _, h := range b.hosts[:2] {
					h.serve.end(syscall.SIGTERM)
					h.clock = 0
					restart(b, h)
				}
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
