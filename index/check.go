package index

import (
	"context"
	"fmt"
	"runtime"
)

// Check reads the whole index and tells the first thing that is wrong with it:
// a section whose checksum does not hold, a term out of order, a posting or a
// stored passage out of bounds. progress, if not nil, is told after each segment
// how many passages are checked, of how many.
func (x *Index) Check(ctx context.Context, progress func(done, all int)) error {
	s := x.current.Load()
	done, all := 0, 0
	for _, seg := range s.segments {
		all += seg.stats.Passages
	}
	for _, seg := range s.segments {
		if err := seg.check(ctx); err != nil {
			return fmt.Errorf("index: segment %s: %w; rebuild the index from the kept pages", seg.path, err)
		}
		done += seg.stats.Passages
		if progress != nil {
			progress(done, all)
		}
	}
	return nil
}

func (d *segmentData) check(ctx context.Context) error {
	defer runtime.KeepAlive(d)
	data, unmap, err := mapFile(d.path)
	if err != nil {
		return err
	}
	defer unmap()
	entries, err := readDirectory(data)
	if err != nil {
		return err
	}
	if err := verify(d.path, entries); err != nil {
		return err
	}
	before := ""
	for i := range d.termCount() {
		if i%1000 == 0 && ctx.Err() != nil {
			return ctx.Err()
		}
		term := d.term(i)
		if i > 0 && term <= before {
			return fmt.Errorf("term %d, %q, is out of order", i, term)
		}
		before = term
		n, last := 0, -1
		d.each(i, func(p posting) bool {
			if p.passage <= last {
				return false
			}
			last = p.passage
			n++
			return true
		})
		if n != d.termFrequency(i) {
			return fmt.Errorf("the postings of %q end after %d of %d", term, n, d.termFrequency(i))
		}
	}
	for p := range d.stats.Passages {
		if _, err := d.storedBytes(p); err != nil {
			return err
		}
	}
	return nil
}
