//go:build !linux

package pdfium

const ownMemory = 0

// bound does nothing where there is no way to tell how much memory a process holds.
func bound(uint64) {}
