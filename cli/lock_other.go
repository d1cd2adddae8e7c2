//go:build !unix

package cli

import (
	"os"
	"os/exec"
)

func lockFile(*os.File) error { return nil }

func detach(*exec.Cmd) {}
