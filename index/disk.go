package index

import (
	"io"
	"os"
	"path/filepath"
)

// A disk is what writing needs of the file system. Tests put one in its place
// that fails, fills up or forgets what was not synced.
type disk struct {
	write   func(f *os.File, p []byte) (int, error)
	sync    func(f *os.File) error
	rename  func(from, to string) error
	syncDir func(dir string) error
}

var realDisk = &disk{
	write:  func(f *os.File, p []byte) (int, error) { return f.Write(p) },
	sync:   func(f *os.File) error { return f.Sync() },
	rename: os.Rename,
	syncDir: func(dir string) error {
		d, err := os.Open(dir)
		if err != nil {
			return err
		}
		defer d.Close()
		return d.Sync()
	},
}

// A diskFile is a file that is written through a disk.
type diskFile struct {
	*os.File
	disk *disk
}

func (f diskFile) Write(p []byte) (int, error) {
	n, err := f.disk.write(f.File, p)
	if n < len(p) && err == nil {
		err = io.ErrShortWrite
	}
	return n, err
}

// replace replaces a file so that after a crash it is the old or the new one,
// whole: it writes beside it, syncs, renames, and syncs the directory.
func (d *disk) replace(path string, write func(diskFile) error) (err error) {
	f, err := os.Create(path + tempSuffix)
	if err != nil {
		return err
	}
	err = write(diskFile{f, d})
	if err == nil {
		err = d.sync(f)
	}
	if closed := f.Close(); err == nil {
		err = closed
	}
	if err == nil {
		err = d.rename(f.Name(), path)
	}
	if err != nil {
		os.Remove(f.Name())
		return err
	}
	return d.syncDir(filepath.Dir(path))
}
