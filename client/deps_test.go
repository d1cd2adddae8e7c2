package client

import (
	"os/exec"
	"regexp"
	"strings"
	"testing"
)

// TestLinksNoStoreNorPDFEngine holds that a program that only talks to a service carries
// neither.
func TestLinksNoStoreNorPDFEngine(t *testing.T) {
	for _, args := range [][]string{{"./client"}, {"-tags", "client", "./cmd/jardinet"}} {
		cmd := exec.Command("go", append([]string{"list", "-deps"}, args...)...)
		cmd.Dir = ".."
		out, err := cmd.Output()
		if err != nil {
			t.Fatal(err)
		}
		heavy := regexp.MustCompile(`sqlite|wazero|pdfium|^jardinet/(store|service|server|embed|encoder)$`)
		for _, path := range strings.Fields(string(out)) {
			if heavy.MatchString(path) {
				t.Errorf("%v links %s", args, path)
			}
		}
	}
}
