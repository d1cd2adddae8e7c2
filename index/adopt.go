package index

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
)

// An index is on several hosts if one of them writes it and hands on its segments, which never
// change, and its manifest; the others adopt that. They search the same files then, and find the same
// with the same scores.

// Mark puts a host's name into the names of the segments that are written here from now on, so
// that no two hosts write different segments of one name.
func (x *Index) Mark(host string) { x.mark = "-" + host }

// Empty returns the manifest of an index without documents.
func Empty(space Space) Manifest {
	return Manifest{Format: manifestFormat, Space: space, Segments: []Segment{}}
}

// Manifest returns the state of the index.
func (x *Index) Manifest() Manifest { return x.current.Load().manifest(x.space) }

func (s *snapshot) manifest(space Space) Manifest {
	m := Manifest{Format: manifestFormat, Space: space, Generation: s.generation, Segments: []Segment{}}
	for _, seg := range s.segments {
		ms := Segment{Name: filepath.Base(seg.path)}
		for key := range seg.deleted {
			ms.Deleted = append(ms.Deleted, key)
		}
		slices.Sort(ms.Deleted)
		m.Segments = append(m.Segments, ms)
	}
	return m
}

// SegmentPath returns where the segment of a name lies.
func (x *Index) SegmentPath(name string) string { return filepath.Join(x.dir, name) }

// Adopt makes a manifest of another host the state of the index. fetch brings a segment that is not
// here into a file.
func (x *Index) Adopt(m Manifest, fetch func(name, path string) error) error {
	x.write.Lock()
	defer x.write.Unlock()
	if m.Format != manifestFormat {
		return fmt.Errorf("index: the manifest has format %d, this program reads %d", m.Format, manifestFormat)
	}
	if len(m.Segments) > 0 && m.Space != x.space {
		return fmt.Errorf("index: %w: %w", ErrSpace, errSpace(m.Space, x.space))
	}
	for _, ms := range m.Segments {
		path := filepath.Join(x.dir, ms.Name)
		if filepath.Base(ms.Name) != ms.Name {
			return fmt.Errorf("index: a segment is called %q", ms.Name)
		}
		if _, err := os.Stat(path); err == nil {
			continue
		} else if !errors.Is(err, fs.ErrNotExist) {
			return fmt.Errorf("index: %w", err)
		}
		if err := x.bring(ms.Name, path, fetch); err != nil {
			return err
		}
	}
	s, err := x.snapshotOf(m)
	if err != nil {
		return fmt.Errorf("index: %w", err)
	}
	return x.publish(s)
}

// bring fetches a segment and puts it in its place once it is whole.
func (x *Index) bring(name, path string, fetch func(name, path string) error) error {
	temp := path + tempSuffix
	if err := fetch(name, temp); err != nil {
		return errors.Join(fmt.Errorf("index: fetch segment %s: %w", name, err), os.RemoveAll(temp))
	}
	if err := os.Rename(temp, path); err != nil {
		return fmt.Errorf("index: %w", err)
	}
	return nil
}
