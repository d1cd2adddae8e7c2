package ledger

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/nats-io/nats.go"

	"jardinet/natsserver"
)

// open starts a server of its own and opens a ledger on it.
func open(t testing.TB) *Ledger {
	t.Helper()
	s, err := natsserver.Start(natsserver.Options{Name: "only", Dir: t.TempDir(), Listen: "127.0.0.1:0", Secret: "secret of the test"})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(s.Stop)
	conn, err := nats.Connect(s.URL(), nats.UserInfo("jardinet", "secret of the test"))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(conn.Close)
	l, err := Open(t.Context(), conn, 1)
	if err != nil {
		t.Fatal(err)
	}
	return l
}

// read returns the first n changes that follow one, as "number body".
func read(t testing.TB, l *Ledger, after uint64, n int) (out []string) {
	t.Helper()
	ctx, cancel := context.WithTimeout(t.Context(), 20*time.Second)
	defer cancel()
	enough := errors.New("enough")
	err := l.Follow(ctx, after, Reader{Change: func(_ context.Context, number uint64, _ string, body []byte) error {
		if out = append(out, fmt.Sprintf("%d %.10s", number, body)); len(out) == n {
			return enough
		}
		return nil
	}})
	if !errors.Is(err, enough) {
		t.Fatalf("read %q, error %v", out, err)
	}
	return out
}

func TestOneOfTwoWins(t *testing.T) {
	l, ctx := open(t), t.Context()
	first, err := l.Append(ctx, "a", 0, []byte("one"))
	if err != nil {
		t.Fatal(err)
	}
	if err := l.Beat(ctx, "a", []byte("alive")); err != nil {
		t.Fatal(err)
	}
	second, err := l.Append(ctx, "b", first, []byte("two"))
	if err != nil {
		t.Fatal(err)
	}
	if _, err := l.Append(ctx, "a", first, []byte("also two")); !errors.Is(err, ErrBehind) {
		t.Errorf("a change that follows one that is not the last gives %v", err)
	}
	long := strings.Repeat("three ", 100_000)
	third, err := l.Append(ctx, "a", second, []byte(long))
	if err != nil {
		t.Fatal(err)
	}
	want := []string{fmt.Sprint(first, " one"), fmt.Sprint(second, " two"), fmt.Sprint(third, " three thre")}
	if got := read(t, l, 0, 3); !slices.Equal(got, want) {
		t.Errorf("the ledger is %q, not %q", got, want)
	}
	if got := read(t, l, second, 1); !slices.Equal(got, want[2:]) {
		t.Errorf("after the second there is %q", got)
	}
}

// TestNoneIsLost has hosts write at once, each looking again when another one came first.
func TestNoneIsLost(t *testing.T) {
	l, ctx := open(t), t.Context()
	const hosts, each = 4, 25
	var writers sync.WaitGroup
	for h := range hosts {
		writers.Go(func() {
			for i := range each {
				for {
					last, err := l.stream.GetLastMsgForSubject(ctx, changes)
					after := uint64(0)
					if err == nil {
						after = last.Sequence
					}
					if _, err := l.Append(ctx, fmt.Sprint(h), after, fmt.Appendf(nil, "%d-%d", h, i)); err == nil {
						break
					} else if !errors.Is(err, ErrBehind) {
						t.Error(err)
						return
					}
				}
			}
		})
	}
	writers.Wait()
	seen := map[string]bool{}
	for _, line := range read(t, l, 0, hosts*each) {
		_, body, _ := strings.Cut(line, " ")
		if seen[body] {
			t.Errorf("%s is there twice", body)
		}
		seen[body] = true
	}
	if len(seen) != hosts*each {
		t.Errorf("%d changes of %d", len(seen), hosts*each)
	}
}

func TestFiles(t *testing.T) {
	l, ctx := open(t), t.Context()
	sum, err := l.PutBytes(ctx, Segment, []byte("the pages of a manual"))
	if err != nil {
		t.Fatal(err)
	}
	if again, err := l.PutBytes(ctx, Segment, []byte("the pages of a manual")); err != nil || again != sum {
		t.Errorf("again it is %s, error %v", again, err)
	}
	if data, err := l.Bytes(ctx, Segment+sum); err != nil || string(data) != "the pages of a manual" {
		t.Errorf("it holds %q, error %v", data, err)
	}
	for range 2 {
		if err := l.Remove(ctx, Segment+sum); err != nil {
			t.Fatal(err)
		}
	}
	if _, err := l.Bytes(ctx, Segment+sum); !errors.Is(err, ErrNoObject) {
		t.Errorf("a file that was removed gives %v", err)
	}
}

func TestWork(t *testing.T) {
	l, ctx := open(t), t.Context()
	for range 3 {
		if err := l.Enqueue(ctx, "intake", "doc1"); err != nil {
			t.Fatal(err)
		}
	}
	if n, err := l.Waiting(ctx, "intake"); err != nil || n != 1 {
		t.Errorf("%d tasks wait, error %v", n, err)
	}
	working, stop := context.WithCancel(ctx)
	tasks := make(chan Task, 10)
	var ended sync.WaitGroup
	ended.Go(func() {
		l.Work(working, "intake", 2, func(_ context.Context, task Task) error {
			tasks <- task
			return nil
		})
	})
	if got := <-tasks; got != (Task{"intake", "doc1", 1}) {
		t.Errorf("the task is %+v", got)
	}
	if err := l.Enqueue(ctx, "intake", "doc2"); err != nil {
		t.Fatal(err)
	}
	if got := <-tasks; got.ID != "doc2" {
		t.Errorf("the task is %+v", got)
	}
	stop()
	ended.Wait()
	if n, err := l.Waiting(ctx, "intake"); err != nil || n != 0 {
		t.Errorf("%d tasks wait, error %v", n, err)
	}
}

func TestOneLeads(t *testing.T) {
	l, ctx := open(t), t.Context()
	leading := make(chan string, 2)
	first, stop := context.WithCancel(ctx)
	var ended sync.WaitGroup
	lead := func(ctx context.Context, host string) {
		l.Lead(ctx, "duties", host, func(ctx context.Context) { leading <- host; <-ctx.Done() })
	}
	ended.Go(func() { lead(first, "a") })
	if got := <-leading; got != "a" {
		t.Fatalf("%s leads", got)
	}
	second, stopSecond := context.WithCancel(ctx)
	ended.Go(func() { lead(second, "b") })
	if got, err := l.Leader(ctx, "duties"); got != "a" || err != nil {
		t.Errorf("%q leads, error %v", got, err)
	}
	stop()
	if got := <-leading; got != "b" {
		t.Errorf("after a it is %s", got)
	}
	stopSecond()
	ended.Wait()
}

func TestTrim(t *testing.T) {
	l, ctx := open(t), t.Context()
	var last uint64
	for i := range 5 {
		var err error
		if last, err = l.Append(ctx, "a", last, fmt.Append(nil, i)); err != nil {
			t.Fatal(err)
		}
	}
	if err := l.Trim(ctx, last-1); err == nil {
		t.Error("changes were let go of without a snapshot")
	}
	sum, err := l.PutBytes(ctx, Records, []byte("all records"))
	if err != nil {
		t.Fatal(err)
	}
	if err := l.Snapshot(ctx, Snapshot{Number: last, Sum: sum}); err != nil {
		t.Fatal(err)
	}
	if err := l.Trim(ctx, last-1); err != nil {
		t.Fatal(err)
	}
	if err := l.Follow(ctx, 1, Reader{}); !errors.Is(err, ErrTrimmed) {
		t.Errorf("to go on from what was let go of gives %v", err)
	}
	if next, err := l.Append(ctx, "a", last, []byte("next")); err != nil || !slices.Equal(read(t, l, last-1, 2), []string{fmt.Sprint(last, " 4"), fmt.Sprint(next, " next")}) {
		t.Errorf("it does not go on: %v", err)
	}
}

func TestCounts(t *testing.T) {
	l, ctx := open(t), t.Context()
	var adding sync.WaitGroup
	for range 4 {
		adding.Go(func() {
			for range 10 {
				if _, err := l.Count(ctx, "gwen.1", 2); err != nil {
					t.Error(err)
				}
			}
		})
	}
	adding.Wait()
	if n, err := l.Count(ctx, "gwen.1", 0); err != nil || n != 80 {
		t.Errorf("it is %d, error %v", n, err)
	}
	if n, err := l.Count(ctx, "nobody.1", 0); err != nil || n != 0 {
		t.Errorf("what was never counted is %d, error %v", n, err)
	}
}
