//go:build unix

package cli

import (
	"os"
	"os/exec"
	"syscall"
)

// lockFile takes a lock that ends with the process.
func lockFile(f *os.File) error { return syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB) }

// detach lets a command outlive the terminal.
func detach(cmd *exec.Cmd) { cmd.SysProcAttr = &syscall.SysProcAttr{Setsid: true} }
