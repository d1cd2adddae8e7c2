package reader

import (
	"container/list"
	"crypto/sha256"
	"encoding/binary"
	"sync"
)

// mostRemembered is how many readings are kept, at some 4 kB each.
const mostRemembered = 4096

// A key stands for a question with a passage under its heading, word for word: a passage
// that was changed is another.
type key [sha256.Size]byte

func keyOf(question string, t Text) key {
	var buf []byte
	for _, s := range []string{question, t.Heading, t.Passage.Text} {
		buf = append(binary.AppendUvarint(buf, uint64(len(s))), s...)
	}
	for _, s := range t.Passage.Sentences {
		buf = binary.AppendUvarint(binary.AppendUvarint(buf, uint64(s.Start)), uint64(s.End))
	}
	return sha256.Sum256(buf)
}

// A memory holds the readings that were used last. It may be used by many goroutines.
type memory struct {
	mu    sync.Mutex
	at    map[key]*list.Element
	order list.List // the one used last in front
}

type remembered struct {
	key     key
	reading Reading
}

func (m *memory) get(k key) (Reading, bool) {
	m.mu.Lock()
	defer m.mu.Unlock()
	e, ok := m.at[k]
	if !ok {
		return Reading{}, false
	}
	m.order.MoveToFront(e)
	return e.Value.(*remembered).reading, true
}

func (m *memory) put(k key, r Reading) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if _, ok := m.at[k]; ok {
		return
	}
	if m.at == nil {
		m.at = map[key]*list.Element{}
	}
	m.at[k] = m.order.PushFront(&remembered{k, r})
	if m.order.Len() > mostRemembered {
		oldest := m.order.Back()
		m.order.Remove(oldest)
		delete(m.at, oldest.Value.(*remembered).key)
	}
}
