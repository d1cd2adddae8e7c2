//go:build unix

package main

import (
	"os"
	"syscall"
)

// maxRSS returns the peak memory of an ended process in MiB.
func maxRSS(state *os.ProcessState) float64 {
	if usage, ok := state.SysUsage().(*syscall.Rusage); ok {
		return float64(usage.Maxrss) / 1024
	}
	return 0
}
