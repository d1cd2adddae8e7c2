package store

import (
	"errors"
	"fmt"
	"syscall"

	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// Reserve is how many bytes are kept free on the disk: new files are refused before it is
// full, so that what is known of the others can still be written.
const Reserve = 32 << 20

// ErrFull says that there is no room for another file.
var ErrFull = errors.New("the disk is full")

// IsFull tells whether an error says that nothing can be written now: the disk is full, only
// readable, or gone.
func IsFull(err error) bool {
	var failed *sqlite.Error
	if errors.As(err, &failed) {
		switch failed.Code() & 0xff {
		case sqlite3.SQLITE_FULL, sqlite3.SQLITE_READONLY, sqlite3.SQLITE_IOERR, sqlite3.SQLITE_CANTOPEN:
			return true
		}
	}
	for _, kind := range []error{ErrFull, syscall.ENOSPC, syscall.EDQUOT, syscall.EROFS} {
		if errors.Is(err, kind) {
			return true
		}
	}
	return false
}

// Free returns how many bytes are left on the disk.
func (s *Store) Free() (int64, error) {
	left, err := free(s.dir)
	return int64(left), err
}

// CheckRoom tells whether there is room for another file.
func (s *Store) CheckRoom() error {
	left, err := free(s.dir)
	if err != nil {
		return fmt.Errorf("store: %s: %w", s.dir, err)
	}
	if left < Reserve {
		return fmt.Errorf("%w: %d MiB are left, and %d are kept for records", ErrFull, left>>20, Reserve>>20)
	}
	return nil
}

// isBusy says whether an error says that others are reading or writing.
func isBusy(err error) bool {
	var failed *sqlite.Error
	return errors.As(err, &failed) && failed.Code()&0xff == sqlite3.SQLITE_BUSY
}

// IsCorrupt tells whether an error says that the file of the records is damaged somewhere.
func IsCorrupt(err error) bool {
	var failed *sqlite.Error
	if errors.As(err, &failed) {
		code := failed.Code() & 0xff
		return code == sqlite3.SQLITE_CORRUPT || code == sqlite3.SQLITE_NOTADB
	}
	return false
}
