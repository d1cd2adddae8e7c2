package index

import (
	"encoding/binary"
	"math"
	"math/bits"
)

// The postings of a term are kept in one of two ways. A rare term's are varints,
// one after the other. Those of a term in more than blockSize passages are in
// blocks of so many, each with its numbers packed to as many bits as the largest
// takes, behind a table that tells of each block its last passage, where it ends
// and how much one of its postings weighs at the most; so a search can leap over
// what it does not need (block-max indexes: Ding and Suel 2011).

const (
	blockSize = 128
	skipSize  = 12 // bytes a block in the table
	widths    = 3  // bytes before a block's numbers: their widths
)

// A posting says that a term stands in a passage, how often in which field.
type posting struct {
	passage       int
	heading, body int
}

// A list is the postings of a term as they are gathered: varints. The distance to
// the passage before is shifted by one bit, which is set when the term stands in
// the heading too.
type list struct {
	count int
	last  int // passage
	data  []byte
}

func (l *list) add(p posting) {
	delta := uint64(p.passage-l.last) << 1
	if p.heading > 0 {
		l.data = binary.AppendUvarint(l.data, delta|1)
		l.data = binary.AppendUvarint(l.data, uint64(p.heading))
	} else {
		l.data = binary.AppendUvarint(l.data, delta)
	}
	l.data = binary.AppendUvarint(l.data, uint64(p.body))
	l.last = p.passage
	l.count++
}

// each calls visit for every posting until it returns false, or until the varints
// run out.
func (l *list) each(visit func(posting) bool) {
	r := varints{data: l.data}
	p := posting{passage: -1}
	for range l.count {
		delta := r.next()
		p.passage += int(delta >> 1)
		p.heading = 0
		if delta&1 == 1 {
			p.heading = int(r.next())
		}
		p.body = int(r.next())
		if r.failed || !visit(p) {
			return
		}
	}
}

// A packer writes lists the way they are kept.
type packer struct {
	lengths          func(passage int) (heading, body int)
	average          averages // of the segment, for the weights in the table
	skips, data, out []byte
	block            []posting
	last             int // passage of the block before
}

// pack returns a list as it is kept; the bytes are good until the next call.
func (k *packer) pack(l *list) []byte {
	if l.count <= blockSize {
		return l.data
	}
	k.skips, k.data, k.block, k.last = k.skips[:0], k.data[:0], k.block[:0], -1
	l.each(func(p posting) bool {
		if k.block = append(k.block, p); len(k.block) == blockSize {
			k.flush()
		}
		return true
	})
	if len(k.block) > 0 {
		k.flush()
	}
	k.out = append(append(k.out[:0], k.skips...), k.data...)
	return k.out
}

// flush writes the gathered block.
func (k *packer) flush() {
	var deltas, bodies, headings [blockSize]uint32
	var mostBody, mostHeading float64
	before := k.last
	for i, p := range k.block {
		deltas[i], bodies[i], headings[i] = uint32(p.passage-before-1), uint32(p.body), uint32(p.heading)
		before = p.passage
		heading, body := k.lengths(p.passage)
		mostBody = max(mostBody, float64(p.body)*k.average.body(body))
		mostHeading = max(mostHeading, float64(p.heading)*k.average.heading(heading))
	}
	n := len(k.block)
	at := len(k.data)
	k.data = append(k.data, width(deltas[:n]), width(bodies[:n]), width(headings[:n]))
	for i, values := range [][]uint32{deltas[:n], bodies[:n], headings[:n]} {
		k.data = appendPacked(k.data, values, k.data[at+i])
	}
	k.skips = binary.LittleEndian.AppendUint32(k.skips, uint32(before))
	k.skips = binary.LittleEndian.AppendUint32(k.skips, uint32(len(k.data)))
	k.skips = binary.LittleEndian.AppendUint16(k.skips, upwards(mostBody))
	k.skips = binary.LittleEndian.AppendUint16(k.skips, upwards(mostHeading))
	k.last, k.block = before, k.block[:0]
}

// Weights in the table are 256ths, rounded up; the largest stands for any.
const weightUnit = 256

func upwards(w float64) uint16 {
	return uint16(min(math.MaxUint16, math.Ceil(w*weightUnit*(1+1e-9))))
}

func downwards(w uint16) float64 {
	if w == math.MaxUint16 {
		return math.Inf(1)
	}
	return float64(w) / weightUnit
}

// width returns how many bits the largest of some numbers takes.
func width(values []uint32) byte {
	all := uint32(0)
	for _, v := range values {
		all |= v
	}
	return byte(bits.Len32(all))
}

// appendPacked appends numbers of so many bits each, the first in the lowest.
func appendPacked(to []byte, values []uint32, width byte) []byte {
	var held uint64
	n := 0
	for _, v := range values {
		held |= uint64(v) << n
		for n += int(width); n >= 8; n -= 8 {
			to = append(to, byte(held))
			held >>= 8
		}
	}
	if n > 0 {
		to = append(to, byte(held))
	}
	return to
}

// packedSize returns how many bytes n numbers take.
func packedSize(n int, width byte) int { return (n*int(width) + 7) / 8 }

// unpack reads numbers that appendPacked wrote; false if they are not all there.
func unpack(to []uint32, from []byte, width byte) bool {
	if width > 32 || len(from) < packedSize(len(to), width) {
		return false
	}
	if width == 0 {
		clear(to)
		return true
	}
	i := unpackEights(to, from, uint(width))
	mask := uint64(1)<<width - 1
	for at := i * int(width); i < len(to); i, at = i+1, at+int(width) {
		var tail [8]byte
		copy(tail[:], from[at>>3:])
		to[i] = uint32(binary.LittleEndian.Uint64(tail[:]) >> (at & 7) & mask)
	}
	return true
}

// unpackEights reads numbers eight at a time, as long as whole words can be loaded,
// and returns how many it read. Eight numbers take as many bytes as one takes bits.
func unpackEights(to []uint32, from []byte, width uint) int {
	mask := uint32(uint64(1)<<width - 1)
	i := 0
	switch {
	case width <= 8: // in one word
		for ; i+8 <= len(to) && len(from) >= 8; i, from = i+8, from[width:] {
			v, t := binary.LittleEndian.Uint64(from), to[i:i+8:i+8]
			t[0], t[1] = uint32(v)&mask, uint32(v>>width)&mask
			t[2], t[3] = uint32(v>>(2*width))&mask, uint32(v>>(3*width))&mask
			t[4], t[5] = uint32(v>>(4*width))&mask, uint32(v>>(5*width))&mask
			t[6], t[7] = uint32(v>>(6*width))&mask, uint32(v>>(7*width))&mask
		}
	case width <= 14: // in two, the second from some bit on
		for ; i+8 <= len(to) && len(from) >= 16; i, from = i+8, from[width:] {
			v, t := binary.LittleEndian.Uint64(from), to[i:i+8:i+8]
			u := binary.LittleEndian.Uint64(from[width/2:]) >> (4 * (width & 1))
			t[0], t[1] = uint32(v)&mask, uint32(v>>width)&mask
			t[2], t[3] = uint32(v>>(2*width))&mask, uint32(v>>(3*width))&mask
			t[4], t[5] = uint32(u)&mask, uint32(u>>width)&mask
			t[6], t[7] = uint32(u>>(2*width))&mask, uint32(u>>(3*width))&mask
		}
	}
	return i
}

// A cursor goes through the postings of a term, from passage to passage upwards.
type cursor struct {
	segment *segmentData
	skips   []byte // nil for a list of varints
	data    []byte
	count   int // of all postings
	block   int // at hand
	at, n   int // in it, and how many it has
	damaged bool

	passages                  [blockSize]int32
	deltas, bodies, headings  [blockSize]uint32
	mostBody, mostHeading     float64 // of a list of varints
	bodyExcess, headingExcess float64 // how much more a posting may weigh than when it was written
}

// open goes to the first posting of a term; now are the averages to weigh by.
func (c *cursor) open(d *segmentData, term int, now *averages) {
	c.segment, c.count = d, d.termFrequency(term)
	c.skips, c.block, c.at, c.n, c.damaged = nil, 0, 0, 0, false
	raw := d.termPostings(term)
	if c.count <= blockSize {
		c.openList(raw, now)
		return
	}
	then := d.stats.averages()
	c.bodyExcess, c.headingExcess = max(1, now.bodyLength/then.bodyLength), max(1, now.headingLength/then.headingLength)
	table := c.blocks() * skipSize
	if table > len(raw) {
		c.damaged = true
		return
	}
	c.skips, c.data = raw[:table], raw[table:]
	c.load()
}

// openList reads all of a rare term's postings.
func (c *cursor) openList(raw []byte, now *averages) {
	c.mostBody, c.mostHeading = 0, 0
	l := list{count: c.count, data: raw}
	l.each(func(p posting) bool {
		if p.passage >= c.segment.stats.Passages {
			return false
		}
		c.passages[c.n], c.bodies[c.n], c.headings[c.n] = int32(p.passage), uint32(p.body), uint32(p.heading)
		c.n++
		heading, body := c.segment.length(p.passage)
		c.mostBody = max(c.mostBody, float64(p.body)*now.body(body))
		c.mostHeading = max(c.mostHeading, float64(p.heading)*now.heading(heading))
		return true
	})
	c.damaged = c.n < c.count
}

func (c *cursor) blocks() int { return (c.count + blockSize - 1) / blockSize }

func (c *cursor) lastOf(block int) int {
	return int(int32(binary.LittleEndian.Uint32(c.skips[block*skipSize:])))
}

func (c *cursor) endOf(block int) int {
	if block < 0 {
		return 0
	}
	return int(binary.LittleEndian.Uint32(c.skips[block*skipSize+4:]))
}

// load unpacks the block at hand.
func (c *cursor) load() {
	from, to := c.endOf(c.block-1), c.endOf(c.block)
	c.at, c.n = 0, min(blockSize, c.count-c.block*blockSize)
	if from > to-widths || to > len(c.data) || !c.unpack(c.data[from:to]) {
		c.n, c.damaged = 0, true
	}
}

func (c *cursor) unpack(data []byte) bool {
	w := [widths]byte(data)
	data = data[widths:]
	for i, to := range [][]uint32{c.deltas[:c.n], c.bodies[:c.n], c.headings[:c.n]} {
		if !unpack(to, data, w[i]) {
			return false
		}
		data = data[packedSize(c.n, w[i]):]
	}
	passage := -1
	if c.block > 0 {
		passage = c.lastOf(c.block - 1)
	}
	for i, delta := range c.deltas[:c.n] {
		passage += int(delta) + 1
		c.passages[i] = int32(passage)
	}
	return passage == c.lastOf(c.block) && passage < c.segment.stats.Passages
}

// next goes to the next block; false if there is none.
func (c *cursor) next() bool {
	if c.skips == nil || c.damaged || c.block+1 >= c.blocks() {
		return false
	}
	c.block++
	c.load()
	return !c.damaged
}

// seek goes to the first posting of a passage from the given one on; false if
// there is none.
func (c *cursor) seek(passage int) bool {
	if c.n == 0 {
		return false
	}
	if c.skips != nil && int(c.passages[c.n-1]) < passage {
		block := c.block + 1
		for ; block < c.blocks() && c.lastOf(block) < passage; block++ {
		}
		if block == c.blocks() {
			c.at = c.n
			return false
		}
		c.block = block
		if c.load(); c.damaged {
			return false
		}
	}
	for c.at < c.n && int(c.passages[c.at]) < passage {
		c.at++
	}
	return c.at < c.n
}

// most returns the most that a posting of a passage from one and before another
// can weigh. The cursor stays where it is.
func (c *cursor) most(from, before int) float64 {
	if c.n == 0 || c.at < c.n && int(c.passages[c.at]) >= before {
		return 0
	}
	if c.skips == nil {
		if int(c.passages[c.n-1]) < from {
			return 0
		}
		return c.mostBody + headingWeight*c.mostHeading
	}
	most := 0.0
	for block := c.block; block < c.blocks(); block++ {
		last := c.lastOf(block)
		if last >= from {
			at := c.skips[block*skipSize+8:]
			most = max(most, c.bodyExcess*downwards(binary.LittleEndian.Uint16(at))+headingWeight*c.headingExcess*downwards(binary.LittleEndian.Uint16(at[2:])))
		}
		if last >= before-1 {
			break
		}
	}
	return most
}

// each calls visit for every posting of a term until it returns false, or until
// they turn out to be damaged.
func (d *segmentData) each(term int, visit func(posting) bool) {
	c := new(cursor)
	now := d.stats.averages()
	c.open(d, term, &now)
	for more := c.n > 0; more; more = c.next() {
		for i := range c.n {
			if !visit(posting{int(c.passages[i]), int(c.headings[i]), int(c.bodies[i])}) {
				return
			}
		}
	}
}
