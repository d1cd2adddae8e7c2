package index

import (
	"encoding/json"
	"fmt"
	"path/filepath"
	"slices"
)

const (
	segmentSuffix = ".segment"
	tempSuffix    = ".tmp"
)

// Apply adds and removes documents in one step: a search sees all of it or
// nothing. A document whose key is in the index already is left as it is, so
// that a step repeated after a crash changes nothing, unless it is removed in
// the same step: then it is replaced. When Apply returns nil the change is on
// disk.
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
		built, err := build(x.space, fresh)
		if err != nil {
			return fmt.Errorf("index: %w", err)
		}
		seg, err := x.create(next.generation, 0, built.write)
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
func (x *Index) create(generation uint64, part int, write func(*fileWriter) error) (*segment, error) {
	path := filepath.Join(x.dir, fmt.Sprintf("%08d-%d%s%s", generation, part, x.mark, segmentSuffix))
	err := x.disk.replace(path, func(f diskFile) error {
		w := newFileWriter(f, sectionCount)
		if err := write(w); err != nil {
			return err
		}
		return w.finish()
	})
	if err != nil {
		return nil, fmt.Errorf("index: write segment: %w", err)
	}
	seg, err := openSegment(path)
	if err != nil {
		return nil, fmt.Errorf("index: read back %w", err)
	}
	return seg, nil
}

// exact is up to how many passages a segment is written anew as soon as a document is
// removed from it, so that scores do not depend on what was there before. In a larger one
// what was removed counts for the rarity of words until it is merged.
const exact = 8192

// compact merges the smallest segments, all at once, so that each that is left
// is more than twice as large as those after it together, and drops segments in
// which nothing lives.
func (x *Index) compact(s *snapshot) error {
	s.segments = slices.DeleteFunc(s.segments, func(seg *segment) bool { return seg.live() == 0 })
	slices.SortStableFunc(s.segments, func(a, b *segment) int { return b.live() - a.live() })
	from, sum := len(s.segments), 0
	for i := len(s.segments) - 1; i >= 0; i-- {
		seg := s.segments[i]
		live := seg.live()
		if live <= 2*sum || live < seg.stats.Passages && seg.stats.Passages <= exact {
			from = i
		}
		sum += live
	}
	if from == len(s.segments) {
		return nil
	}
	small := s.segments[from:]
	seg, err := x.create(s.generation, 1, func(w *fileWriter) error { return mergeSegments(w, small...) })
	if err != nil {
		return err
	}
	s.segments = append(s.segments[:from:from], seg)
	return nil
}

// publish makes the snapshot the state of the index, on disk and in memory.
func (x *Index) publish(s *snapshot) error {
	m := s.manifest(x.space)
	data, err := json.MarshalIndent(m, "", "  ")
	if err != nil {
		return fmt.Errorf("index: %w", err)
	}
	if err := x.disk.replace(filepath.Join(x.dir, manifestName), func(f diskFile) error { _, err := f.Write(data); return err }); err != nil {
		return fmt.Errorf("index: write manifest: %w", err)
	}
	s.finish()
	x.current.Store(s)
	x.sweep(m)
	return nil
}
