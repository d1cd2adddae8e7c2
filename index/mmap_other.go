//go:build !unix

package index

import "os"

// mapFile reads a file where mapping it is not known how.
func mapFile(path string) (data []byte, unmap func(), err error) {
	data, err = os.ReadFile(path)
	return data, func() {}, err
}
