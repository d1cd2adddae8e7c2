//go:build unix

package index

import (
	"fmt"
	"os"
	"syscall"
)

// mapFile maps a file into memory, to be read only.
func mapFile(path string) (data []byte, unmap func(), err error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, nil, err
	}
	defer f.Close()
	stat, err := f.Stat()
	if err != nil {
		return nil, nil, err
	}
	if stat.Size() == 0 {
		return nil, nil, fmt.Errorf("it is empty")
	}
	data, err = syscall.Mmap(int(f.Fd()), 0, int(stat.Size()), syscall.PROT_READ, syscall.MAP_SHARED)
	if err != nil {
		return nil, nil, fmt.Errorf("map into memory: %w", err)
	}
	return data, func() { syscall.Munmap(data) }, nil
}
