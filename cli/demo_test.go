//go:build !client

package cli

import (
	"bytes"
	"context"
	"net"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"jardinet/api"
	"jardinet/service"
)

func TestStates(t *testing.T) {
	for want, counts := range map[string]map[string]int{
		"none": {}, "2 ready": {"ready": 2, "replaced": 5}, "3 ready, 1 failed": {"failed": 1, "ready": 3},
	} {
		if got := states(counts); got != want {
			t.Errorf("%v is worded %q, want %q", counts, got, want)
		}
	}
}

func TestSmallWords(t *testing.T) {
	if plural(1, "page") != "1 page" || plural(0, "page") != "0 pages" {
		t.Error("plurals are wrong")
	}
	if got := clip("äöüß", 3); got != "äö…" {
		t.Errorf("clipped to %q", got)
	}
	if got := place("a.pdf", 12, "iv", []string{"1 One", "1.1 Two", "1.1.1 Three"}); got != "a.pdf, page 12 (printed iv) · 1.1 Two › 1.1.1 Three" {
		t.Errorf("the place is %q", got)
	}
	if got := place("a.pdf", 12, "12", nil); got != "a.pdf, page 12" {
		t.Errorf("the place is %q", got)
	}
}

func TestGather(t *testing.T) {
	dir := t.TempDir()
	for _, name := range []string{"b.PDF", "a.pdf", "note.txt", "picture.png", "sub/c.docx"} {
		path := filepath.Join(dir, name)
		os.MkdirAll(filepath.Dir(path), 0o755)
		os.WriteFile(path, []byte("x"), 0o644)
	}
	got, err := gather([]string{dir, filepath.Join(dir, "picture.png")})
	if err != nil {
		t.Fatal(err)
	}
	var names []string
	for _, path := range got {
		names = append(names, filepath.Base(path))
	}
	if strings.Join(names, " ") != "a.pdf b.PDF note.txt c.docx picture.png" {
		t.Errorf("gathered %v", names)
	}
}

func TestBar(t *testing.T) {
	var out bytes.Buffer
	b := &bar{&program{err: &out}, true, 100}
	b.draw(map[string]api.Document{
		"a": {State: "ready", Pages: 100, PagesDone: 100}, "b": {State: "reading", Pages: 100, PagesDone: 50},
	}, time.Now().Add(-3*time.Second))
	for _, part := range []string{"1 of 2 documents", "150 of 200 pages", "3s", "about 1s left", "█"} {
		if !strings.Contains(out.String(), part) {
			t.Errorf("the bar %q lacks %q", out.String(), part)
		}
	}
	out.Reset()
	(&bar{&program{err: &out}, false, 100}).draw(nil, time.Now())
	if out.Len() > 0 {
		t.Error("a bar is drawn where nobody looks")
	}
}

func TestServeOnATakenPort(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	_, errs := run(t, 1, "serve", "--data", t.TempDir(), "--listen", l.Addr().String())
	contains(t, "the complaint", errs, "--listen")
	_, errs = run(t, 1, "serve", "--data", t.TempDir(), "--log", "loud")
	contains(t, "the complaint", errs, "debug, info, warn or error")
}

func TestDemoFillsOnce(t *testing.T) {
	s, err := service.Open(t.Context(), service.Options{Data: t.TempDir(), Scripts: []string{"none"}})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	p := &program{out: &bytes.Buffer{}, err: &bytes.Buffer{}}
	for range 2 {
		if err := p.fillDemo(context.Background(), s); err != nil {
			t.Fatal(err)
		}
		c, err := s.Collection(t.Context(), "halvern")
		if err != nil || c.Documents["ready"] != 13 || c.Documents["failed"] != 1 || c.Pages < 150 {
			t.Errorf("the demo's collection is %+v, error %v", c, err)
		}
	}
	out := &bytes.Buffer{}
	(&program{out: out}).printDemo("http://127.0.0.1:1")
	if strings.Count(out.String(), "http://127.0.0.1:1") < 4 {
		t.Errorf("the demo says %s", out)
	}
}

func TestNoDemoToStop(t *testing.T) {
	_, errs := run(t, 1, "demo", "--stop", "--data", t.TempDir())
	contains(t, "the complaint", errs, "no demo runs")
}
