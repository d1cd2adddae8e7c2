package index

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"slices"
)

const (
	segmentSuffix = ".segment"
	tempSuffix    = ".tmp"
)

// Apply adds and removes documents in one step: a search sees all of it or
// nothing. A document whose key is in the index already is left as it is, so
// that a step repeated after a crash changes nothing. When Apply returns nil
// the change is on disk.
func (x *Index) Apply(add []Document, remove []string) error {
	x.write.Lock()
	defer x.write.Unlock()
	old := x.current.Load()
	next := &snapshot{generation: old.generation + 1, segments: slices.Clone(old.segments)}
	changed := false
	for _, key := range remove {
		if at, ok := old.keys[key]; ok {
			next.segments[at.segment] = next.segments[at.segment].without(key)
			changed = true
		}
	}
	var fresh []Document
	for _, d := range add {
		if at, ok := old.keys[d.Key]; !ok || next.segments[at.segment].deleted[d.Key] {
			fresh = append(fresh, d)
		}
	}
	if len(fresh) > 0 {
		seg, err := x.create(build(fresh), next.generation, 0)
		if err != nil {
			return err
		}
		next.segments = append(next.segments, seg)
		changed = true
	}
	if !changed {
		return nil
	}
	if err := x.compact(next); err != nil {
		return err
	}
	return x.publish(next)
}

// without returns the segment with one more document deleted. The segment
// itself is left to the snapshots that have it.
func (s *segment) without(key string) *segment {
	deleted := make(map[string]bool, len(s.deleted)+1)
	for k := range s.deleted {
		deleted[k] = true
	}
	deleted[key] = true
	return &segment{segmentData: s.segmentData, deleted: deleted}
}

// create writes a segment file and opens it.
func (x *Index) create(data []byte, generation uint64, part int) (*segment, error) {
	path := filepath.Join(x.dir, fmt.Sprintf("%08d-%d%s", generation, part, segmentSuffix))
	if err := writeFile(path, data); err != nil {
		return nil, fmt.Errorf("index: write segment: %w", err)
	}
	seg, err := openSegment(path)
	if err != nil {
		return nil, fmt.Errorf("index: read back %w", err)
	}
	return seg, nil
}

// compact merges neighbours in size until each segment is more than twice as
// large as the next, and drops segments in which nothing lives.
func (x *Index) compact(s *snapshot) error {
	s.segments = slices.DeleteFunc(s.segments, func(seg *segment) bool { return seg.live() == 0 })
	slices.SortStableFunc(s.segments, func(a, b *segment) int { return b.live() - a.live() })
	for part := 1; ; part++ {
		at := -1
		for i := len(s.segments) - 2; i >= 0; i-- {
			if s.segments[i].live() <= 2*s.segments[i+1].live() {
				at = i
				break
			}
		}
		if at < 0 {
			return nil
		}
		data := mergeSegments(s.segments[at], s.segments[at+1])
		seg, err := x.create(data, s.generation, part)
		if err != nil {
			return err
		}
		s.segments = append(append(s.segments[:at:at], seg), s.segments[at+2:]...)
		slices.SortStableFunc(s.segments, func(a, b *segment) int { return b.live() - a.live() })
	}
}

// publish makes the snapshot the state of the index, on disk and in memory.
func (x *Index) publish(s *snapshot) error {
	m := manifest{Format: manifestFormat, Generation: s.generation, Segments: []manifestSegment{}}
	for _, seg := range s.segments {
		ms := manifestSegment{Name: filepath.Base(seg.path)}
		for key := range seg.deleted {
			ms.Deleted = append(ms.Deleted, key)
		}
		slices.Sort(ms.Deleted)
		m.Segments = append(m.Segments, ms)
	}
	data, err := json.MarshalIndent(m, "", "  ")
	if err != nil {
		return fmt.Errorf("index: %w", err)
	}
	if err := writeFile(filepath.Join(x.dir, manifestName), data); err != nil {
		return fmt.Errorf("index: write manifest: %w", err)
	}
	s.finish()
	x.current.Store(s)
	x.sweep(m)
	return nil
}

// writeFile replaces a file so that after a crash it is the old or the new
// one, whole: it writes beside it, syncs, renames, and syncs the directory.
func writeFile(path string, data []byte) (err error) {
	f, err := os.Create(path + tempSuffix)
	if err != nil {
		return err
	}
	_, err = f.Write(data)
	if err == nil {
		err = f.Sync()
	}
	if closed := f.Close(); err == nil {
		err = closed
	}
	if err == nil {
		err = os.Rename(f.Name(), path)
	}
	if err != nil {
		os.Remove(f.Name())
		return err
	}
	dir, err := os.Open(filepath.Dir(path))
	if err != nil {
		return err
	}
	defer dir.Close()
	return dir.Sync()
}
