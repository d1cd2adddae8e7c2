package main

import (
	"os"
	"os/exec"
	"strings"
	"testing"
)

// TestClients runs the examples of the clients in other languages.
func TestClients(t *testing.T) {
	d := serve(t, t.TempDir())
	d.takes(t, "halvern", "seed-vault-manual.pdf")
	build := exec.Command("npx", "tsc", "--outDir", t.TempDir(), "--strict", "--target", "ES2022", "--module", "ESNext", "--moduleResolution", "bundler", "--lib", "ES2022,DOM,DOM.Iterable", "../clients/typescript/jardinet.ts")
	build.Dir = "../../web"
	if out, err := build.CombinedOutput(); err != nil {
		t.Errorf("the TypeScript client: %v\n%s", err, out)
	}
	python, err := exec.LookPath("python3")
	if err != nil {
		t.Skip("there is no python3 here to try the Python client with")
	}
	cmd := exec.Command(python, "../../clients/python/example.py")
	cmd.Env = append(os.Environ(), "JARDINET_SERVER="+d.address, "PYTHONDONTWRITEBYTECODE=1")
	out, err := cmd.CombinedOutput()
	if err != nil || !strings.Contains(string(out), "seed-vault-manual.pdf, page 4") {
		t.Errorf("the Python client: %v\n%s", err, out)
	}
}

// TestClientsAreOfThisAPI holds that the clients were made from the API as it is.
func TestClientsAreOfThisAPI(t *testing.T) {
	description, err := os.ReadFile("../../server/openapi.yaml")
	if err != nil {
		t.Fatal(err)
	}
	for _, path := range []string{"../../clients/python/jardinet.py", "../../clients/typescript/jardinet.ts"} {
		client, err := os.ReadFile(path)
		if err != nil {
			t.Fatal(err)
		}
		for _, line := range strings.Split(string(description), "\n") {
			if id, ok := strings.CutPrefix(strings.TrimSpace(line), "operationId: "); ok && id != "signInElsewhere" && id != "comeBack" && !strings.Contains(strings.ReplaceAll(strings.ToLower(string(client)), "_", ""), strings.ToLower(id)+"(") {
				t.Errorf("%s lacks %s; make it anew with: go run ./tools/clients", path, id)
			}
		}
	}
}
