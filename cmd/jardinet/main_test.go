package main

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"io"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"sync"
	"testing"

	"jardinet/api"
	"jardinet/cli"
	"jardinet/client"
	"jardinet/measure"
	"jardinet/pdfium"
)

// asMain makes the test binary behave as the program.
const asMain = "JARDINET_TEST_MAIN"

func TestMain(m *testing.M) {
	pdfium.ServeReader()
	if os.Getenv(asMain) != "" {
		os.Exit(cli.Run(os.Args[1:], os.Stdin, os.Stdout, os.Stderr))
	}
	os.Exit(m.Run())
}

const demo = "../../demo/"

// A daemon is the service running as a process of its own.
type daemon struct {
	*client.Client
	address string
	link    string // for the first administrator
	cmd     *exec.Cmd
}

var beginning = regexp.MustCompile(`http://\S+/begin#\S+`)

var serving = regexp.MustCompile(`address=(http://\S+)`)

// serve starts the program on a data directory and a free port.
func serve(t *testing.T, data string, more ...string) *daemon {
	t.Helper()
	cmd := exec.Command(os.Args[0], append([]string{"serve", "--data", data, "--listen", "127.0.0.1:0", "--recognise", "none"}, more...)...)
	cmd.Env = append(os.Environ(), asMain+"=1")
	stderr, err := cmd.StderrPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { cmd.Process.Kill() })
	address := ""
	for lines := bufio.NewScanner(stderr); lines.Scan(); {
		if m := serving.FindStringSubmatch(lines.Text()); m != nil {
			address = m[1]
		}
		if link := beginning.FindString(lines.Text()); link != "" {
			go io.Copy(io.Discard, stderr)
			c, err := client.New(address, "")
			if err != nil {
				t.Fatal(err)
			}
			return &daemon{c, address, link, cmd}
		}
	}
	t.Fatal("the service ended before it listened")
	return nil
}

// kill ends the process as a power cut would.
func (d *daemon) kill() {
	d.cmd.Process.Kill()
	d.cmd.Wait()
}

// settled waits until all documents are done.
func (d *daemon) settled(t *testing.T, collection string) []api.Document {
	t.Helper()
	all, err := d.Settle(t.Context(), collection, (*api.Document).Settled)
	if err != nil {
		t.Fatal(err)
	}
	return all
}

func demoFiles(t *testing.T) []string {
	t.Helper()
	paths, err := filepath.Glob(demo + "documents/*.pdf")
	if err != nil || len(paths) < 10 {
		t.Fatalf("%d demo documents, error %v", len(paths), err)
	}
	return paths
}

// essence is what of a measurement must not depend on how the intake went. One question in
// nine is asked: reading takes its time, and this is measured often.
func essence(t *testing.T, d *daemon) string {
	t.Helper()
	all, err := os.ReadFile(demo + "questions.jsonl")
	if err != nil {
		t.Fatal(err)
	}
	var set []byte
	for i, line := range bytes.SplitAfter(all, []byte("\n")) {
		if i%9 == 0 {
			set = append(set, line...)
		}
	}
	m, err := d.Measure(t.Context(), "garden", "questions.jsonl", set, "", nil)
	if err != nil {
		t.Fatal(err)
	}
	type row struct {
		ID, Outcome, Answer string
		Confidence          float64
		Retrieved           []measure.Retrieved
	}
	out := struct {
		State   string
		Figures []measure.Figure
		Rows    []row
	}{m.Subject.State, m.Figures, nil}
	for _, r := range m.Records {
		out.Rows = append(out.Rows, row{r.ID, r.Outcome, r.Answer, r.Confidence, r.Retrieved})
	}
	data, err := json.Marshal(out)
	if err != nil {
		t.Fatal(err)
	}
	return string(data)
}

// fill makes the collection and hands in all documents.
func fill(t *testing.T, d *daemon) {
	t.Helper()
	if _, err := d.CreateCollection(t.Context(), "garden", nil); err != nil {
		t.Fatal(err)
	}
	if _, _, err := d.Add(t.Context(), "garden", demoFiles(t)); err != nil {
		t.Fatal(err)
	}
}

// TestKilledDuringIntake kills the service with SIGKILL at twenty instants of
// the intake, counted in events so that they are the same on any machine, and
// wants the same documents and the same measurement as without.
func TestKilledDuringIntake(t *testing.T) {
	calm := serve(t, t.TempDir())
	fill(t, calm)
	ready := 0
	for _, one := range calm.settled(t, "garden") {
		if one.State == "ready" {
			ready++
		}
	}
	want := essence(t, calm)
	calm.kill()

	random := rand.New(rand.NewPCG(20, 26))
	for round := range 8 { // make trust kills it 500 times
		data := t.TempDir()
		d := serve(t, data)
		instant := 1 + random.IntN(45)
		killed := make(chan struct{})
		ctx, cancel := context.WithCancel(t.Context())
		if _, err := d.CreateCollection(ctx, "garden", nil); err != nil {
			t.Fatal(err)
		}
		var once sync.Once
		go func() {
			n := 0
			d.Events(ctx, "garden", func(client.Event) bool {
				if n++; n == instant {
					once.Do(func() { d.kill(); close(killed) })
				}
				return n < instant
			})
		}()
		// The kill may come while the files are being sent; they are sent again.
		d.Add(ctx, "garden", demoFiles(t))
		<-killed
		cancel()

		again := serve(t, data)
		if _, _, err := again.Add(t.Context(), "garden", demoFiles(t)); err != nil {
			t.Fatal(err)
		}
		docs := again.settled(t, "garden")
		names, now := map[string]bool{}, 0
		for _, one := range docs {
			if names[one.Name] {
				t.Errorf("round %d, killed at event %d: %s is there twice", round, instant, one.Name)
			}
			names[one.Name] = true
			if one.State == "ready" {
				now++
			}
		}
		if now != ready || len(docs) != len(demoFiles(t)) {
			t.Errorf("round %d, killed at event %d: %d of %d documents are ready, want %d", round, instant, now, len(docs), ready)
		}
		if got := essence(t, again); got != want {
			t.Errorf("round %d, killed at event %d: the measurement differs", round, instant)
		}
		again.kill()
	}
}

func TestOneServiceADataDirectory(t *testing.T) {
	data := t.TempDir()
	serve(t, data)
	cmd := exec.Command(os.Args[0], "serve", "--data", data, "--listen", "127.0.0.1:0")
	cmd.Env = append(os.Environ(), asMain+"=1")
	out, err := cmd.CombinedOutput()
	if err == nil || !regexp.MustCompile("another service uses").Match(out) {
		t.Errorf("a second service on the data ends with %v: %s", err, out)
	}
}

func TestGracefulStop(t *testing.T) {
	d := serve(t, t.TempDir())
	fill(t, d)
	d.cmd.Process.Signal(os.Interrupt)
	if err := d.cmd.Wait(); err != nil {
		t.Errorf("after an interrupt in the middle of intake the service ends with %v", err)
	}
}
