package client

import (
	"os"
	"os/exec"
	"path/filepath"
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
		heavy := regexp.MustCompile(`sqlite|wazero|pdfium|^jardinet/(store|service|server)$`)
		for _, path := range strings.Fields(string(out)) {
			if heavy.MatchString(path) {
				t.Errorf("%v links %s", args, path)
			}
		}
	}
}

// TestCarriesNoModels holds that the models stay out of it, though it knows what answers
// look like.
func TestCarriesNoModels(t *testing.T) {
	path := filepath.Join(t.TempDir(), "client")
	cmd := exec.Command("go", "build", "-tags", "client", "-o", path, "./cmd/jardinet")
	cmd.Dir = ".."
	if out, err := cmd.CombinedOutput(); err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	info, err := os.Stat(path)
	if err != nil {
		t.Fatal(err)
	}
	if most := int64(24 << 20); info.Size() > most {
		t.Errorf("the client has %d bytes, more than %d", info.Size(), most)
	}
}
