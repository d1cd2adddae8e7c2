//go:build unix

package store

import "golang.org/x/sys/unix"

// free returns the bytes that may still be written where a directory is.
func free(dir string) (uint64, error) {
	var at unix.Statfs_t
	if err := unix.Statfs(dir, &at); err != nil {
		return 0, err
	}
	return uint64(at.Bavail) * uint64(at.Bsize), nil
}
