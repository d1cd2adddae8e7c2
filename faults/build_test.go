package faults

import (
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
)

// The program is built with changed sources: there is no other way to let one process alone have
// another time, and no newer version to upgrade to.

// buildBoth builds the program, and what could be its next version.
func buildBoth(dir string) error {
	root, err := exec.Command("go", "env", "GOROOT", "GOMOD").Output()
	if err != nil {
		return err
	}
	lines := strings.Fields(string(root))
	clock := filepath.Join(lines[0], "src", "time", "time.go")
	records := filepath.Join(filepath.Dir(lines[1]), "store", "store.go")
	overlay := map[string]string{clock: filepath.Join(dir, "time.go")}
	if err := change(clock, overlay[clock], wrongClock); err != nil {
		return err
	}
	if err := build(dir, program, overlay); err != nil {
		return err
	}
	overlay[records] = filepath.Join(dir, "store.go")
	if err := change(records, overlay[records], oneStepMore); err != nil {
		return err
	}
	return build(dir, next, overlay)
}

// change writes a source file anew, changed.
func change(from, to string, how func(code string) string) error {
	code, err := os.ReadFile(from)
	if err != nil {
		return err
	}
	changed := how(string(code))
	if changed == string(code) {
		return fmt.Errorf("%s is not as it was when this test was written, and cannot be changed", from)
	}
	return os.WriteFile(to, []byte(changed), 0o600)
}

// wrongClock has package time add so many seconds to what the clock says as JARDINET_CLOCK says.
func wrongClock(code string) string {
	const now = "func Now() Time {\n\tsec, nsec, mono := runtimeNow()\n"
	if !strings.Contains(code, now) {
		return code
	}
	code = strings.Replace(code, now, now+"\tsec += wrongBy()\n", 1)
	code = strings.Replace(code, "import (\n", "import (\n\t\"syscall\"\n", 1)
	return code + `
var wrong, asked int64

// wrongBy is how many seconds the clock is wrong by.
func wrongBy() int64 {
	if asked == 0 {
		text, _ := syscall.Getenv("JARDINET_CLOCK")
		var n, sign int64 = 0, 1
		for _, c := range text {
			if c == '-' {
				sign = -1
			} else {
				n = n*10 + int64(c-'0')
			}
		}
		wrong, asked = sign*n, 1
	}
	return wrong
}
`
}

// oneStepMore has the records' form take one more step.
func oneStepMore(code string) string {
	return strings.Replace(code, "`}\n\nfunc (s *Store) migrate", "`, \"CREATE TABLE later (n INTEGER) STRICT\"}\n\nfunc (s *Store) migrate", 1)
}

// build builds the program with some files of its sources in the place of others.
func build(dir, to string, overlay map[string]string) error {
	list, err := json.Marshal(map[string]any{"Replace": overlay})
	if err != nil {
		return err
	}
	file := filepath.Join(dir, "overlay.json")
	if err := os.WriteFile(file, list, 0o600); err != nil {
		return err
	}
	cmd := exec.Command("go", "build", "-trimpath", "-overlay", file, "-o", to, "jardinet/cmd/jardinet")
	cmd.Env = append(os.Environ(), "CGO_ENABLED=0")
	if out, err := cmd.CombinedOutput(); err != nil {
		return fmt.Errorf("build: %w: %s", err, out)
	}
	return nil
}
