package people

import (
	"context"
	"errors"
	"os"
	"strings"
	"testing"
	"time"

	"jardinet/access"
	"jardinet/api"
	"jardinet/cluster"
	"jardinet/natsserver"
	"jardinet/pdfium"
	"jardinet/service"
)

func TestMain(m *testing.M) {
	pdfium.ServeReader()
	os.Exit(m.Run())
}

// open opens a service with a registry, as one of several hosts if it is told which.
func open(t *testing.T, among *cluster.Options) (*service.Service, *Registry) {
	t.Helper()
	s, err := service.Open(t.Context(), service.Options{Data: t.TempDir(), Version: "test", Scripts: []string{"none"}, Cluster: among})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	r, err := Open(t.Context(), s, false)
	if err != nil {
		t.Fatal(err)
	}
	return s, r
}

// first makes the first administrator of a registry, and returns a context in which they call.
func first(t *testing.T, r *Registry) context.Context {
	t.Helper()
	starter, err := r.Caller(t.Context(), r.Starter(), "")
	if err != nil || !starter.Is(access.Starter) {
		t.Fatalf("who has the link is %+v, error %v", starter, err)
	}
	begins := access.With(t.Context(), starter)
	if _, err := r.AddPerson(begins, &api.NewPerson{Name: "gwen", Passphrase: "four loose garden words"}); !errors.Is(err, service.ErrInvalid) {
		t.Errorf("a first one who is no administrator is told %v", err)
	}
	if _, err := r.AddPerson(begins, &api.NewPerson{Name: "edda", Passphrase: "four loose garden words", Administrator: true}); err != nil {
		t.Fatal(err)
	}
	session, err := r.SignIn(t.Context(), "edda", "four loose garden words", "10.0.0.1")
	if err != nil {
		t.Fatal(err)
	}
	edda, err := r.Caller(t.Context(), "", session)
	if err != nil || !edda.Administrator || edda.Name != "edda" {
		t.Fatalf("who has signed in is %+v, error %v", edda, err)
	}
	return access.With(t.Context(), edda)
}

func TestLettingIn(t *testing.T) {
	s, r := open(t, nil)
	if who, err := r.Caller(t.Context(), "", ""); err != nil || !who.Is(access.Open) || !r.IsOpen() {
		t.Errorf("as long as nobody has been let in a caller is %+v, error %v", who, err)
	}
	if _, err := r.AddPerson(t.Context(), &api.NewPerson{Name: "edda", Passphrase: "four loose garden words", Administrator: true}); !errors.Is(err, access.ErrDenied) {
		t.Errorf("who makes the first administrator without the link is told %v", err)
	}
	link := r.Starter()
	ctx := first(t, r)
	if who, err := r.Caller(t.Context(), "", ""); who != nil || err != nil || r.IsOpen() || r.Starter() != "" {
		t.Errorf("once somebody has been let in a caller is %+v, error %v", who, err)
	}
	if _, err := r.Caller(t.Context(), link, ""); !errors.Is(err, access.ErrUnknown) {
		t.Errorf("who uses the link again is told %v", err)
	}
	if _, err := s.CreateCollection(ctx, "garden", nil); err != nil {
		t.Fatal(err)
	}
	key, err := r.CreateKey(ctx, &api.NewKey{Name: "intranet", Rights: map[string]string{"garden": "reader"}})
	if err != nil {
		t.Fatal(err)
	}
	program, err := r.Caller(t.Context(), key.Secret, "")
	if err != nil {
		t.Fatal(err)
	}
	if got := r.Right(access.With(t.Context(), program), "garden"); got != access.Reader {
		t.Errorf("the key's right is %v", got)
	}
	if err := r.SetRight(ctx, "garden", "intranet", "owner"); err != nil {
		t.Fatal(err)
	}
	if holders, err := r.Rights(ctx, "garden"); err != nil || len(holders) != 1 || holders[0].Right != "owner" {
		t.Errorf("rights have %+v, error %v", holders, err)
	}
	if err := r.SetRight(ctx, "garden", "nobody", "reader"); !errors.Is(err, service.ErrNotFound) {
		t.Errorf("a right for nobody gives %v", err)
	}
	if err := r.RevokeKey(ctx, "intranet"); err != nil {
		t.Fatal(err)
	}
	if _, err := r.Caller(t.Context(), key.Secret, ""); !errors.Is(err, access.ErrUnknown) {
		t.Errorf("a revoked key is told %v", err)
	}
	if err := r.RemovePerson(ctx, "edda"); err == nil || !strings.Contains(err.Error(), "administrator") {
		t.Errorf("to remove the last administrator gives %v", err)
	}
}

func TestVainAttempts(t *testing.T) {
	_, r := open(t, nil)
	ctx := first(t, r)
	if _, err := r.AddPerson(ctx, &api.NewPerson{Name: "gwen", Passphrase: "other loose garden words"}); err != nil {
		t.Fatal(err)
	}
	for range patience {
		if _, err := r.SignIn(t.Context(), "gwen", "not these words", "10.0.0.2"); !errors.Is(err, access.ErrUnknown) {
			t.Fatal(err)
		}
	}
	var wait *access.Wait
	if _, err := r.SignIn(t.Context(), "gwen", "other loose garden words", "10.0.0.3"); !errors.As(err, &wait) || wait.For <= 0 || wait.For > 15*time.Second {
		t.Errorf("after vain attempts under a name the next gives %v", err)
	}
	if _, err := r.SignIn(t.Context(), "edda", "four loose garden words", "10.0.0.2"); !errors.As(err, &wait) {
		t.Errorf("after vain attempts from an address the next gives %v", err)
	}
	if _, err := r.SignIn(t.Context(), "edda", "four loose garden words", "10.0.0.4"); err != nil {
		t.Errorf("somebody else from elsewhere is told %v", err)
	}
}

// TestTogether holds that who is let in at one host is known at another one, and who tried passphrases
// in vain there has to wait at the other one too.
func TestTogether(t *testing.T) {
	server, err := natsserver.Start(natsserver.Options{Name: "only", Dir: t.TempDir(), Listen: "127.0.0.1:0"})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(server.Stop)
	host := func(name string) (*service.Service, *Registry) {
		return open(t, &cluster.Options{URL: server.URL(), Host: name, Roles: []cluster.Role{cluster.Answer}, Copies: 1, Shards: 1, Replicas: 1, Version: "test"})
	}
	sa, a := host("a")
	_, b := host("b")
	first(t, a)
	if err := sa.Done(t.Context()); err != nil {
		t.Fatal(err)
	}
	if b.IsOpen() {
		t.Error("where nobody has been let in yet everybody may still do everything, though somebody was at another host")
	}
	for range patience {
		if _, err := a.SignIn(t.Context(), "nobody", "one word after another", "10.0.0.9"); !errors.Is(err, access.ErrUnknown) {
			t.Fatal(err)
		}
	}
	for b.mustWait([]string{"name nobody"}) == 0 {
		if t.Context().Err() != nil {
			t.Fatal("the other host is not told")
		}
	}
	var wait *access.Wait
	if _, err := b.SignIn(t.Context(), "nobody", "one word after another", "10.0.0.9"); !errors.As(err, &wait) {
		t.Errorf("at another host the next attempt gives %v", err)
	}
}
