package cli

import (
	"path/filepath"
	"strings"
	"testing"
	"time"

	"jardinet/server"
)

// guarded runs a service and makes a first key, with which the command line calls it.
func guarded(t *testing.T) {
	t.Helper()
	_, in := startWith(t)
	run(t, 0, "collection", "create", "halvern")
	t.Setenv("JARDINET_KEY", in.Starter())
	secret, errs := run(t, 0, "keys", "create", "root", "--administrator")
	contains(t, "what is said of the key", errs, "everything (administrator)", "not shown again")
	t.Setenv("JARDINET_KEY", strings.TrimSpace(secret))
}

func TestPeopleAndKeys(t *testing.T) {
	guarded(t)
	secret, errs := run(t, 0, "keys", "create", "intranet", "--may", "halvern=reader", "--expires", "90d")
	contains(t, "a key", errs, "reader of halvern")
	out, _ := run(t, 0, "keys", "list")
	contains(t, "the keys", out, "intranet", "reader of halvern", "root")
	if strings.Contains(out, strings.TrimSpace(secret)) {
		t.Error("the list shows a secret")
	}
	out, _ = run(t, 0, "rights", "give", "intranet", "editor", "--in", "halvern")
	contains(t, "the rights", out, "intranet", "editor")
	out, _ = run(t, 0, "rights", "take", "intranet", "--in", "halvern")
	contains(t, "the rights", out, "Only administrators see halvern")
	_, errs = run(t, 1, "people", "add", "gwen") // no passphrase comes in
	contains(t, "without a passphrase", errs, "12")
	out, _ = run(t, 0, "people", "list")
	contains(t, "the people", out, "NAME")
	run(t, 1, "people", "remove", "gwen")
	run(t, 1, "people", "change", "gwen", "--administrator")
	_, errs = run(t, 1, "people", "change", "gwen")
	contains(t, "nothing to change", errs, "--passphrase")
	run(t, 0, "keys", "revoke", "intranet")
	out, _ = run(t, 0, "audit", "list", "--who", "root")
	contains(t, "the audit", out, "revokeKey", "intranet")
	out, _ = run(t, 0, "audit", "export")
	contains(t, "the exported audit", out, `"number":1,`)
	out, _ = run(t, 0, "audit", "verify")
	contains(t, "the verdict", out, "The audit is whole")
	t.Setenv("JARDINET_KEY", "jardinet_wrong")
	_, errs = run(t, 1, "documents")
	contains(t, "a wrong key", errs, "not known")
}

func TestKeeping(t *testing.T) {
	guarded(t)
	run(t, 0, "add", documents+"storm-damage-report.pdf", "--to", "halvern", "--wait=words")
	out, _ := run(t, 0, "check")
	contains(t, "the check", out, "All is well")
	dir := t.TempDir()
	first, second := filepath.Join(dir, "first.tar"), filepath.Join(dir, "second.tar")
	out, _ = run(t, 0, "backup", first)
	contains(t, "the backup", out, "1 original")
	out, _ = run(t, 0, "backup", second, "--since", first)
	contains(t, "the second backup", out, "1 more is in earlier backups")
	_, errs := run(t, 1, "backup", "verify", second)
	contains(t, "without the first", errs, "earlier backup")
	into := filepath.Join(dir, "restored")
	out, _ = run(t, 0, "restore", second, "--since", first, "--data", into)
	contains(t, "the restoring", out, "Restored 1 original", "jardinet serve --data")
	_, errs = run(t, 1, "restore", first, "--data", into)
	contains(t, "over what is there", errs, "not empty")
	out, _ = run(t, 0, "remove", "storm-damage-report.pdf")
	contains(t, "the removal", out, "can be put back until")
	out, _ = run(t, 0, "bin", "list")
	contains(t, "the bin", out, "storm-damage-report.pdf")
	out, _ = run(t, 0, "bin", "restore", "storm-damage-report.pdf")
	contains(t, "putting back", out, "is back in halvern")
	run(t, 0, "remove", "storm-damage-report.pdf")
	out, _ = run(t, 0, "bin", "purge", "storm-damage-report.pdf")
	contains(t, "purging", out, "gone for good")
}

func TestParseExpiry(t *testing.T) {
	now := time.Date(2026, 11, 29, 12, 0, 0, 0, time.UTC)
	for given, want := range map[string]string{"90d": "2027-02-27", "2027-06-30": "2027-06-30"} {
		if got, err := parseExpiry(given, now); err != nil || got.Format(time.DateOnly) != want {
			t.Errorf("%s is %v, error %v", given, got, err)
		}
	}
	for _, bad := range []string{"soon", "0d", "-3d", "30.6.2027"} {
		if got, err := parseExpiry(bad, now); err == nil {
			t.Errorf("%s is read as %v", bad, got)
		}
	}
}

func TestReach(t *testing.T) {
	for name, r := range map[string]reach{
		"proxy":    {proxies: []string{"somewhere"}},
		"provider": {provider: &server.Provider{Issuer: "https://id.example"}},
		"secret":   {provider: &server.Provider{Issuer: "https://id.example", Client: "c", Public: "https://m.example"}, providerSecret: "none"},
	} {
		if r.provider == nil {
			r.provider = &server.Provider{}
		}
		if got, err := r.options(nil); err == nil {
			t.Errorf("%s: taken as %+v", name, got)
		}
	}
	r := reach{proxies: []string{"10.0.0.1", "10.1.0.0/16"}, hosts: []string{"Manuals.Example"}, provider: &server.Provider{}}
	got, err := r.options(nil)
	if err != nil || len(got.Proxies) != 2 || got.Hosts[0] != "manuals.example" || got.Provider != nil {
		t.Errorf("%+v, error %v", got, err)
	}
	if _, _, err := (&reach{listen: "127.0.0.1:0", certificate: "c.pem"}).listener(); err == nil {
		t.Error("a certificate without a key is taken")
	}
}

// TestOpenOnLoopbackAlone holds that nobody else reaches a service that is open.
func TestOpenOnLoopbackAlone(t *testing.T) {
	_, errs := run(t, 1, "serve", "--data", t.TempDir(), "--listen", "0.0.0.0:0", "--recognise", "none", "--log", "error")
	contains(t, "listening for all", errs, "could do everything", DefaultAddress)
}
