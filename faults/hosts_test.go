package faults

import (
	"bufio"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"jardinet/client"
)

// A testbed is hosts in network namespaces: each has an address on a bridge over which they reach each
// other, which can be cut, and one on another over which the test reaches them.
type testbed struct {
	t     *testing.T
	dir   string
	name  string // what its namespaces and bridges begin with
	key   string // of an administrator
	hosts []*host
}

// A host is one of them.
type host struct {
	*client.Client
	bed    *testbed
	n      int
	name   string
	space  string // its network namespace
	nats   *process
	serve  *process
	newer  bool          // it runs the next version of the program
	clock  int           // seconds that its clock is wrong by
	slowed chan struct{} // closed when it may run freely again
}

// A process is one that runs in a host's namespace.
type process struct {
	cmd  *exec.Cmd
	log  string
	over chan struct{}
}

// command runs a program and fails the test if that fails.
func (b *testbed) command(name string, args ...string) {
	b.t.Helper()
	if out, err := exec.Command(name, args...).CombinedOutput(); err != nil {
		b.t.Fatalf("%s %s: %v: %s", name, strings.Join(args, " "), err, out)
	}
}

// newTestbed makes a network for so many hosts. Nothing runs yet.
func newTestbed(t *testing.T, n int) *testbed {
	t.Helper()
	b := &testbed{t: t, dir: t.TempDir(), name: fmt.Sprintf("jd%d", os.Getpid()%10000)}
	if out, err := exec.Command("ip", "netns", "add", b.name+"try").CombinedOutput(); err != nil {
		t.Skipf("network namespaces cannot be made here: %s", out)
	}
	_ = exec.Command("ip", "netns", "del", b.name+"try").Run()
	for i, bridge := range []string{"a", "b"} { // among themselves, and from here
		b.command("ip", "link", "add", b.name+bridge, "type", "bridge")
		t.Cleanup(func() { _ = exec.Command("ip", "link", "del", b.name+bridge).Run() })
		b.command("ip", "addr", "add", fmt.Sprintf("10.%d.0.254/24", 77+i), "dev", b.name+bridge)
		b.command("ip", "link", "set", b.name+bridge, "up")
	}
	for i := range n {
		h := &host{bed: b, n: i + 1, name: string(rune('a' + i)), space: b.name + string(rune('a'+i))}
		b.hosts = append(b.hosts, h)
		b.command("ip", "netns", "add", h.space)
		t.Cleanup(func() { _ = exec.Command("ip", "netns", "del", h.space).Run() })
		for k, bridge := range []string{"a", "b"} {
			outside, inside := h.link(bridge), "e"+bridge
			b.command("ip", "link", "add", outside, "type", "veth", "peer", "name", inside, "netns", h.space)
			b.command("ip", "link", "set", outside, "master", b.name+bridge, "up")
			b.command("ip", "-n", h.space, "addr", "add", fmt.Sprintf("10.%d.0.%d/24", 77+k, h.n), "dev", inside)
			b.command("ip", "-n", h.space, "link", "set", inside, "up")
		}
		b.command("ip", "-n", h.space, "link", "set", "lo", "up")
	}
	t.Cleanup(b.stop)
	return b
}

func (h *host) link(bridge string) string { return fmt.Sprintf("%s%s%d", h.bed.name, bridge, h.n) }

func (h *host) inner() string { return fmt.Sprintf("10.77.0.%d", h.n) }

func (h *host) address() string { return fmt.Sprintf("10.78.0.%d:8090", h.n) }

func (h *host) path(name string) string { return filepath.Join(h.bed.dir, h.name, name) }

// natsServers is on how many hosts there is a NATS server.
func (b *testbed) natsServers() []*host { return b.hosts[:min(3, len(b.hosts))] }

func (b *testbed) urls() string {
	var out []string
	for _, h := range b.natsServers() {
		out = append(out, "nats://"+h.inner()+":4222")
	}
	return strings.Join(out, ",")
}

// run starts the program in a host's namespace.
func (h *host) run(log string, env []string, args ...string) *process {
	h.bed.t.Helper()
	if err := os.MkdirAll(h.path(""), 0o700); err != nil {
		h.bed.t.Fatal(err)
	}
	file, err := os.OpenFile(h.path(log), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		h.bed.t.Fatal(err)
	}
	defer file.Close()
	run := program
	if h.newer {
		run = next
	}
	p := &process{cmd: exec.Command("ip", append([]string{"netns", "exec", h.space, run}, args...)...), log: h.path(log), over: make(chan struct{})}
	p.cmd.Stdout, p.cmd.Stderr = file, file
	p.cmd.Env = append(os.Environ(), env...)
	p.cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true} // its readers with it
	if err := p.cmd.Start(); err != nil {
		h.bed.t.Fatal(err)
	}
	go func() { _ = p.cmd.Wait(); close(p.over) }()
	return p
}

// signal sends a signal to a process and its readers.
func (p *process) signal(s syscall.Signal) {
	if p != nil {
		_ = syscall.Kill(-p.cmd.Process.Pid, s)
	}
}

// end ends a process and waits until it has.
func (p *process) end(s syscall.Signal) {
	if p == nil {
		return
	}
	p.signal(s)
	select {
	case <-p.over:
	case <-time.After(30 * time.Second):
		p.signal(syscall.SIGKILL)
		<-p.over
	}
}

func (h *host) startNATS() {
	var peers []string
	for _, other := range h.bed.natsServers() {
		peers = append(peers, other.inner()+":6222")
	}
	h.nats = h.run("nats.log", nil, "nats", "--name", h.name, "--data", h.path("nats"), "--listen", h.inner()+":4222", "--among", h.inner()+":6222", "--peers", strings.Join(peers, ","))
}

func (h *host) start(listen string, more ...string) {
	args := append([]string{"serve", "--data", h.path("data"), "--listen", listen, "--name", h.name, "--cluster", h.bed.urls(), "--recognise", "none", "--requests", "0", "--questions", "0"}, more...)
	h.serve = h.run("host.log", []string{"JARDINET_CLOCK=" + strconv.Itoa(h.clock), "GOMEMLIMIT=700MiB"}, args...)
}

// found starts the NATS servers and the first host, makes an administrator, and then starts all hosts.
func (b *testbed) found() {
	b.t.Helper()
	for _, h := range b.natsServers() {
		h.startNATS()
	}
	first := b.hosts[0]
	first.start("127.0.0.1:8090")
	link := b.waitForLine(first.serve, regexp.MustCompile(`/begin#(\S+)`))
	b.key = strings.TrimSpace(first.command(link, "keys", "create", "test", "--administrator"))
	first.serve.end(syscall.SIGTERM)
	for _, h := range b.hosts {
		h.start(h.address())
	}
	for _, h := range b.hosts {
		h.connect()
		b.eventually(h.name+" is ready", time.Minute, h.isReady)
	}
}

func (h *host) connect() {
	c, err := client.New("http://"+h.address(), h.bed.key)
	if err != nil {
		h.bed.t.Fatal(err)
	}
	h.Client = c
}

// command runs a command of the program in a host's namespace, with a key.
func (h *host) command(key string, args ...string) string {
	h.bed.t.Helper()
	cmd := exec.Command("ip", append([]string{"netns", "exec", h.space, program, "--server", "http://127.0.0.1:8090"}, args...)...)
	cmd.Env = append(os.Environ(), "JARDINET_KEY="+key)
	var out, problems bytes.Buffer
	cmd.Stdout, cmd.Stderr = &out, &problems
	if err := cmd.Run(); err != nil {
		h.bed.t.Fatalf("%s: %v: %s", strings.Join(args, " "), err, problems.String())
	}
	return out.String()
}

// waitForLine waits until a process has logged something, and returns the part in brackets.
func (b *testbed) waitForLine(p *process, pattern *regexp.Regexp) (found string) {
	b.t.Helper()
	b.eventually(fmt.Sprint("a line like ", pattern), time.Minute, func() error {
		f, err := os.Open(p.log)
		if err != nil {
			return err
		}
		defer f.Close()
		for lines := bufio.NewScanner(f); lines.Scan(); {
			if m := pattern.FindStringSubmatch(lines.Text()); m != nil {
				found = m[1]
			}
		}
		if found == "" {
			return errors.New("not there")
		}
		return nil
	})
	return found
}

// eventually waits until something holds.
func (b *testbed) eventually(what string, within time.Duration, holds func() error) {
	b.t.Helper()
	var err error
	for end := time.Now().Add(within); time.Now().Before(end); time.Sleep(200 * time.Millisecond) {
		if err = holds(); err == nil {
			return
		}
	}
	b.t.Errorf("after %s it does not hold that %s: %v", within, what, err)
}

func (h *host) isReady() error {
	status, body, err := h.get("/readyz")
	if err == nil && status != http.StatusOK {
		err = fmt.Errorf("status %d: %s", status, body)
	}
	return err
}

func (h *host) get(path string) (status int, body string, err error) {
	ctx, cancel := context.WithTimeout(context.Background(), 3*time.Second)
	defer cancel()
	r, err := http.NewRequestWithContext(ctx, http.MethodGet, "http://"+h.address()+path, nil)
	if err != nil {
		return 0, "", err
	}
	r.Header.Set("Authorization", "Bearer "+h.bed.key)
	resp, err := http.DefaultClient.Do(r)
	if err != nil {
		return 0, "", err
	}
	defer resp.Body.Close()
	data, err := io.ReadAll(resp.Body)
	return resp.StatusCode, strings.TrimSpace(string(data)), err
}

// cut takes a host's network to the others away, or gives it back.
func (h *host) cut(off bool) {
	state := "up"
	if off {
		state = "down"
	}
	h.bed.command("ip", "link", "set", h.link("a"), state)
}

// stop ends everything.
func (b *testbed) stop() {
	for _, h := range b.hosts {
		h.serve.signal(syscall.SIGCONT)
		h.serve.end(syscall.SIGTERM)
	}
	for _, h := range b.hosts {
		h.nats.signal(syscall.SIGCONT)
		h.nats.end(syscall.SIGTERM)
	}
	if b.t.Failed() && os.Getenv("KEEP") != "" {
		_ = exec.Command("cp", "-r", b.dir, os.Getenv("KEEP")).Run()
	}
}
