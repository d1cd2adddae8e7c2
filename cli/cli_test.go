//go:build !client

package cli

import (
	"bytes"
	"context"
	"encoding/json"
	"log/slog"
	"net"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"jardinet/accuracy"
	"jardinet/answer"
	"jardinet/api"
	"jardinet/fetch"
	"jardinet/hooks"
	"jardinet/measure"
	"jardinet/pdfium"
	"jardinet/people"
	"jardinet/server"
	"jardinet/service"
	"jardinet/sources"
)

func TestMain(m *testing.M) {
	pdfium.ServeReader()
	os.Exit(m.Run())
}

const documents = "../demo/documents/"

// start runs a service and points the command line at it.
func start(t *testing.T) *service.Service {
	t.Helper()
	s, _ := startWith(t)
	return s
}

// startWith is start with who may call.
func startWith(t *testing.T) (*service.Service, *people.Registry) {
	t.Helper()
	s, err := service.Open(t.Context(), service.Options{Data: t.TempDir(), Version: "test", Scripts: []string{"none"}})
	if err != nil {
		t.Fatal(err)
	}
	in, err := people.Open(t.Context(), s, false)
	if err != nil {
		t.Fatal(err)
	}
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	ctx, cancel := context.WithCancel(context.Background())
	done := make(chan error, 1)
	told := hooks.Open(s, hooks.Options{Addresses: map[string]string{"alarm": "http://127.0.0.1:1"}})
	bench := accuracy.Open(s, told)
	from := sources.Open(s, sources.Options{Fetch: fetch.Policy{Hosts: []string{"127.0.0.1"}, Private: true}, Folders: []string{os.TempDir()}, Tick: 10 * time.Millisecond, Grace: 50 * time.Millisecond})
	go func() {
		done <- server.Serve(ctx, listener, server.Parts{Service: s, People: in, Bench: bench, Sources: from, Hooks: told}, server.Options{}, slog.New(slog.DiscardHandler))
	}()
	t.Cleanup(func() {
		cancel()
		<-done
		from.Close()
		bench.Close()
		told.Close()
		s.Close()
	})
	t.Setenv("JARDINET_SERVER", listener.Addr().String())
	return s, in
}

// run runs a command line and wants the exit status.
func run(t *testing.T, status int, args ...string) (out, errs string) {
	t.Helper()
	var stdout, stderr bytes.Buffer
	if got := Run(args, strings.NewReader(""), &stdout, &stderr); got != status {
		t.Fatalf("jardinet %s ends with %d, want %d\n%s%s", strings.Join(args, " "), got, status, stdout.String(), stderr.String())
	}
	return stdout.String(), stderr.String()
}

// runJSON runs a command with --json and decodes what it prints.
func runJSON(t *testing.T, into any, args ...string) {
	t.Helper()
	out, _ := run(t, 0, append(args, "--json")...)
	if err := json.Unmarshal([]byte(out), into); err != nil {
		t.Fatalf("jardinet %s prints no JSON: %v\n%s", strings.Join(args, " "), err, out)
	}
}

func contains(t *testing.T, what, s string, parts ...string) {
	t.Helper()
	for _, part := range parts {
		if !strings.Contains(s, part) {
			t.Errorf("%s does not say %q:\n%s", what, part, s)
		}
	}
}

func TestADayAtTheCommandLine(t *testing.T) {
	start(t)
	out, _ := run(t, 0, "collection", "list")
	contains(t, "an empty list", out, "collection create")
	out, _ = run(t, 0, "collection", "create", "garden", "--target", "120")
	contains(t, "create", out, "jardinet add", "garden")
	out, _ = run(t, 0, "documents", "--in", "garden")
	contains(t, "an empty collection", out, "jardinet add")

	out, errs := run(t, 1, "add", documents+"seed-vault-manual.pdf", documents+"boiler-memo-scan.pdf", "--to", "garden", "--wait")
	contains(t, "add", out, "seed-vault-manual.pdf", "ready", "failed", "No text on page 1")
	contains(t, "add's complaint", errs, "1 document could not be taken in")
	out, _ = run(t, 0, "add", documents+"seed-vault-manual.pdf", "--wait")
	contains(t, "adding again", out, "1 document in garden already")
	run(t, 0, "remove", "boiler-memo-scan.pdf")

	out, _ = run(t, 0, "ask", "How long may seed stay out of the cold store?")
	contains(t, "ask", out, "Four hours", "[1] seed-vault-manual.pdf, page 4")
	out, _ = run(t, 0, "ask", "How many tigers are there?")
	contains(t, "a refusal", out, "The documents do not say")
	out, _ = run(t, 0, "find", "cold store alarm", "--top", "2")
	contains(t, "find", out, " 1  ", "seed-vault-manual.pdf, page")
	png := filepath.Join(t.TempDir(), "page.png")
	out, _ = run(t, 0, "page", "seed-vault-manual.pdf", "4", "--png", png)
	contains(t, "page", out, "heading 2", "1.2 The rule of four hours", "paragraph")
	if data, err := os.ReadFile(png); err != nil || !bytes.HasPrefix(data, []byte("\x89PNG")) {
		t.Errorf("page --png wrote %d bytes, error %v", len(data), err)
	}
	out, _ = run(t, 0, "collection", "show", "garden")
	contains(t, "show", out, "1 ready", "passages of 120 words")
}

func TestJSONShapes(t *testing.T) {
	start(t)
	run(t, 0, "collection", "create", "garden")
	run(t, 0, "add", documents+"seed-vault-manual.pdf", "--to", "garden", "--wait")

	var a answer.Answer
	runJSON(t, &a, "ask", "How long may seed stay out of the cold store?", "--in", "garden")
	if a.State != answer.Answered || len(a.Statements) == 0 || a.Citations[0].Document != "seed-vault-manual.pdf" || a.Citations[0].Page != 4 || len(a.Citations[0].Boxes) == 0 {
		t.Errorf("ask gives %+v", a)
	}
	runJSON(t, &a, "ask", "And what is its tolerance?", "--after", "What is the set point of the cold store?")
	if a.Standalone == a.Question {
		t.Errorf("--after is not heeded: %+v", a)
	}
	var f struct{ Passages []api.Found }
	runJSON(t, &f, "find", "cold store", "--top", "3")
	if len(f.Passages) != 3 || f.Passages[0].Rank != 1 || len(f.Passages[0].Pages) == 0 {
		t.Errorf("find gives %+v", f)
	}
	var p api.Page
	runJSON(t, &p, "page", "seed-vault-manual.pdf", "4")
	if p.Number != 4 || p.Of != 20 || len(p.Blocks) == 0 {
		t.Errorf("page gives %+v", p)
	}
	var d struct{ Documents []api.Document }
	runJSON(t, &d, "documents")
	var c struct{ Collections []api.Collection }
	runJSON(t, &c, "collection", "list")
	if len(d.Documents) != 1 || len(c.Collections) != 1 {
		t.Errorf("documents %+v, collections %+v", d, c)
	}
}

func TestMeasureAndMeasurements(t *testing.T) {
	start(t)
	run(t, 0, "collection", "create", "garden")
	run(t, 0, "add", documents+"seed-vault-manual.pdf", "--to", "garden", "--wait")
	set := filepath.Join(t.TempDir(), "set.csv")
	os.WriteFile(set, []byte("id,question,accept,evidence,tags\na,How long may seed stay out of the cold store?,four hours,seed-vault-manual.pdf:4,lookup\n"), 0o644)
	out, _ := run(t, 0, "measure", set, "--rows")
	contains(t, "measure", out, "right, page cited", "1.000", "lookup", "total", "right")
	var m measure.Measurement
	runJSON(t, &m, "measure", set)
	out, _ = run(t, 0, "measurements")
	contains(t, "measurements", out, m.ID, "set.csv", "garden")
	out, _ = run(t, 0, "measurements", m.ID)
	contains(t, "one measurement", out, "page recall@5")
	var all struct{ Measurements []measure.Measurement }
	runJSON(t, &all, "measurements")
	if len(all.Measurements) != 2 {
		t.Errorf("%d measurements are kept, want 2", len(all.Measurements))
	}
}

func TestMistakes(t *testing.T) {
	start(t)
	run(t, 0, "collection", "create", "garden")
	empty := t.TempDir()
	tests := []struct {
		says string
		args []string
	}{
		{"unknown command", []string{"frobnicate"}},
		{"no such file", []string{"add", "none.pdf", "--to", "garden"}},
		{"holds no document", []string{"add", empty, "--to", "garden"}},
		{`"none"`, []string{"ask", "x", "--in", "none"}},
		{"counted from 1", []string{"page", "x.pdf", "two", "--in", "garden"}},
		{"x.pdf", []string{"page", "x.pdf", "1", "--in", "garden"}},
		{"no such file", []string{"measure", "none.jsonl", "--in", "garden"}},
		{"jardinet serve", []string{"documents", "--server", "127.0.0.1:1"}},
		{"write it like", []string{"documents", "--server", "http://"}},
		{"exists already", []string{"collection", "create", "garden"}},
		{"x.pdf", []string{"remove", "x.pdf", "--in", "garden"}},
		{"none", []string{"measurements", "none"}},
	}
	for _, test := range tests {
		out, errs := run(t, 1, test.args...)
		if !strings.HasPrefix(errs, "jardinet: ") || !strings.Contains(errs, test.says) || out != "" {
			t.Errorf("%v prints %q and complains %q, want %q", test.args, out, errs, test.says)
		}
	}
	run(t, 0, "collection", "create", "second")
	_, errs := run(t, 1, "documents")
	contains(t, "two collections and none named", errs, "--in")
}

func TestServerAddress(t *testing.T) {
	config := filepath.Join(t.TempDir(), "config.yaml")
	os.WriteFile(config, []byte("server: http://from-file:1\n"), 0o644)
	t.Setenv("JARDINET_SERVER", "")
	t.Setenv("XDG_CONFIG_HOME", t.TempDir())
	for _, test := range []struct{ flag, env, config, want string }{
		{"", "", "", DefaultAddress},
		{"", "", config, "http://from-file:1"},
		{"", "env:2", config, "env:2"},
		{"flag:3", "env:2", config, "flag:3"},
	} {
		t.Setenv("JARDINET_SERVER", test.env)
		p := &program{server: test.flag, config: test.config}
		if got, err := p.address(); got.Server != test.want || err != nil {
			t.Errorf("%+v: address is %s, error %v", test, got, err)
		}
	}
	os.WriteFile(config, []byte("server: [\n"), 0o644)
	t.Setenv("JARDINET_SERVER", "")
	if _, err := (&program{config: config}).address(); err == nil {
		t.Error("a broken configuration is accepted")
	}
}

func TestHelpHasAnExample(t *testing.T) {
	for _, c := range (&program{}).root().Commands() {
		for _, c := range append(c.Commands(), c) {
			if c.Runnable() && c.Example == "" {
				t.Errorf("%s has no example", c.CommandPath())
			}
		}
	}
}

func TestWrap(t *testing.T) {
	if got, want := wrap("one two three four", "- ", "  ", 10), "- one two\n  three\n  four"; got != want {
		t.Errorf("wrapped as %q, want %q", got, want)
	}
}
