package main

import (
	"os"
	"os/exec"
	"strings"
	"testing"

	"jardinet/api"
)

// TestHosts looks at the hosts of a cluster of one, in the console, on the command line and as JSON.
func TestHosts(t *testing.T) {
	d := serve(t, t.TempDir(), "--cluster", "embedded", "--name", "glasshouse")
	v := visit(t, d.address)
	v.open("/service")
	v.press("See the hosts")
	v.says("1 of 1 hosts answer, as glasshouse sees it.")
	v.says("Shards")
	v.says("writes")
	v.accessible("the hosts")
	all, err := d.Hosts(t.Context())
	if err != nil || len(all.Hosts) != 1 || all.Hosts[0].State != api.HostAnswers || all.Alone {
		t.Errorf("the hosts are %+v, error %v", all, err)
	}
	cmd := exec.Command(os.Args[0], "hosts", "--server", d.address)
	cmd.Env = append(os.Environ(), asMain+"=1")
	out, err := cmd.CombinedOutput()
	for _, want := range []string{"glasshouse  answers", "WRITTEN BY", "Waiting for intake: 0."} {
		if !strings.Contains(string(out), want) {
			t.Errorf("jardinet hosts does not say %q: %s, error %v", want, out, err)
		}
	}
}
