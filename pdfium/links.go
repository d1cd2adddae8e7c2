package pdfium

import (
	"strings"

	"jardinet/pdf"
)

// Bounds on the links of a page.
const (
	maxLinks      = 1000
	longestTarget = 2000 // bytes
)

// links reads where on a page the links to addresses stand. Those within the file are left out, and
// those that would start a program.
func (in *instance) links(page uint64, f frame) ([]pdf.Link, error) {
	var out []pdf.Link
	at := in.scratch + scratchSize - keySize // holds the place in the list, then the link
	in.module.Memory().WriteUint32Le(at, 0)
	for range maxLinks {
		ok, err := in.call("FPDFLink_Enumerate", page, uint64(at), uint64(at+4))
		if err != nil || uint32(ok) == 0 {
			return out, err
		}
		link, _ := in.module.Memory().ReadUint32Le(at + 4)
		target, err := in.target(uint64(link))
		if err != nil {
			return nil, err
		}
		if target == "" {
			continue
		}
		if ok, err := in.call("FPDFLink_GetAnnotRect", uint64(link), uint64(in.scratch)); err != nil || uint32(ok) == 0 {
			continue
		}
		r := in.floats(4) // left, top, right, bottom
		if box := f.rect(r[0], r[3], r[2], r[1]); sane(box) {
			out = append(out, pdf.Link{Box: box, Target: target})
		}
	}
	return out, nil
}

// target is the address that a link leads to, empty for none.
func (in *instance) target(link uint64) (string, error) {
	action, err := in.call("FPDFLink_GetAction", link)
	if err != nil || action == 0 {
		return "", err
	}
	n, err := in.call("FPDFAction_GetURIPath", uint64(in.doc), action, uint64(in.scratch), longestTarget)
	if err != nil || n < 2 || n > longestTarget {
		return "", err
	}
	raw, _ := in.module.Memory().Read(in.scratch, uint32(n-1))
	address := strings.ToValidUTF8(string(raw), "")
	for _, scheme := range []string{"https://", "http://", "mailto:"} {
		if strings.HasPrefix(strings.ToLower(address), scheme) && !strings.ContainsFunc(address, func(r rune) bool { return r <= ' ' }) {
			return address, nil
		}
	}
	return "", nil
}
