package faults

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"os"
	"syscall"
	"time"

	"github.com/nats-io/nats.go"
	"github.com/nats-io/nats.go/jetstream"

	"jardinet/client"
)

// Describe sets the description of a collection, which serves as a register.
func (h *host) Describe(ctx context.Context, collection, description string) (*client.Problem, error) {
	body, err := json.Marshal(map[string]string{"description": description})
	if err != nil {
		return nil, err
	}
	r, err := http.NewRequestWithContext(ctx, http.MethodPatch, "http://"+h.address()+"/api/v1/collections/"+collection, bytes.NewReader(body))
	if err != nil {
		return nil, err
	}
	r.Header.Set("Authorization", "Bearer "+h.bed.key)
	r.Header.Set("Content-Type", "application/json")
	resp, err := http.DefaultClient.Do(r)
	if err != nil {
		return nil, err
	}
	defer resp.Body.Close()
	data, err := io.ReadAll(resp.Body)
	if err != nil || resp.StatusCode < 300 {
		return nil, err
	}
	p := &client.Problem{Status: resp.StatusCode}
	_ = json.Unmarshal(data, p) // what is not JSON says nothing
	return p, p
}

// isRefusal tells whether a host said that it cannot do what it was asked for.
func isRefusal(err error) bool {
	var refused *client.Problem
	return errors.As(err, &refused) && refused.Status == http.StatusServiceUnavailable
}

// leads tells whether a host's NATS server leads the order of changes.
func (h *host) leads() bool {
	conn, err := nats.Connect("nats://"+h.inner()+":4222", nats.Timeout(2*time.Second))
	if err != nil {
		return false
	}
	defer conn.Close()
	js, err := jetstream.New(conn)
	if err != nil {
		return false
	}
	ctx, cancel := context.WithTimeout(context.Background(), 3*time.Second)
	defer cancel()
	stream, err := js.Stream(ctx, "JARDINET")
	if err != nil {
		return false
	}
	cluster := stream.CachedInfo().Cluster
	return cluster != nil && cluster.Leader == h.name
}

// slow stops a host three quarters of the time, or lets it run again.
func (h *host) slow(slow bool) {
	if !slow {
		close(h.slowed)
		h.serve.signal(syscall.SIGCONT)
		return
	}
	h.slowed = make(chan struct{})
	go func(over chan struct{}) {
		for {
			for _, step := range []struct {
				signal syscall.Signal
				rest   time.Duration
			}{{syscall.SIGSTOP, 150 * time.Millisecond}, {syscall.SIGCONT, 50 * time.Millisecond}} {
				select {
				case <-over:
					h.serve.signal(syscall.SIGCONT)
					return
				default:
				}
				h.serve.signal(step.signal)
				time.Sleep(step.rest)
			}
		}
	}(h.slowed)
}

// upgrade puts the next version of the program in a host's place.
func (h *host) upgrade() {
	h.serve.end(syscall.SIGTERM)
	h.newer = true
	h.restart()
}

// forgetNATS removes what a host's NATS server keeps.
func (h *host) forgetNATS() {
	if err := os.RemoveAll(h.path("nats")); err != nil {
		h.bed.t.Error(err)
	}
}

// smallDisk gives a host a disk of its own for its data, of so many MiB.
func (h *host) smallDisk(mib string) {
	if err := os.MkdirAll(h.path("data"), 0o700); err != nil {
		h.bed.t.Fatal(err)
	}
	h.bed.command("mount", "-t", "tmpfs", "-o", "size="+mib+"m", "tmpfs", h.path("data"))
	h.bed.t.Cleanup(func() { _ = syscall.Unmount(h.path("data"), syscall.MNT_DETACH) })
}

// fill fills the disk of a host to the last byte.
func (h *host) fill() {
	f, err := os.Create(h.path("data/filled"))
	if err != nil {
		h.bed.t.Fatal(err)
	}
	defer f.Close()
	block := make([]byte, 64<<10)
	for err == nil {
		_, err = f.Write(block)
	}
	if !errors.Is(err, syscall.ENOSPC) {
		h.bed.t.Errorf("the disk was to be filled: %v", err)
	}
}

func (h *host) makeRoom() {
	if err := os.Remove(h.path("data/filled")); err != nil {
		h.bed.t.Error(err)
	}
}
