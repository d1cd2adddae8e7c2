package service

import (
	"fmt"
	"strings"
	"sync"

	"jardinet/answer"
	"jardinet/index"
)

// gaps are what could not be looked at for one question, which is searched for several times perhaps.
type gaps struct {
	mu   sync.Mutex
	most index.LeftOut
}

func (g *gaps) note(left index.LeftOut) {
	g.mu.Lock()
	defer g.mu.Unlock()
	if left.Parts > g.most.Parts {
		g.most = left
	}
}

// why says why parts were left out.
func why(left *index.LeftOut) string {
	if len(left.Hosts) == 0 {
		return "they are being made"
	}
	return strings.Join(left.Hosts, " and ") + " did not answer in time"
}

// tell has an answer say what it did without: that the documents do not say something is not known
// if not all were looked at.
func (g *gaps) tell(a *answer.Answer) {
	if g.most.Parts == 0 {
		return
	}
	a.LeftOut = &g.most
	a.Note = strings.TrimSpace(fmt.Sprintf("%d of %d parts of the collection could not be looked at, since %s; the answer may stand there. %s", g.most.Parts, g.most.Of, why(&g.most), a.Note))
}
