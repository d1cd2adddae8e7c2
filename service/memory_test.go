package service

import "testing"

func TestMemory(t *testing.T) {
	if got := memory(1024); got != 1024 {
		t.Errorf("what was said is read as %d", got)
	}
	if got := memory(0); got < 128 || got > 16<<10 {
		t.Errorf("this machine has %d MiB", got)
	}
	if got := totalMemory("MemTotal:       24689652 kB\nMemFree: 1 kB\n"); got != 24110 {
		t.Errorf("%d MiB are read", got)
	}
	for _, m := range []int{256, 1024, 4096, 1 << 20} {
		if r := readerMemory(m); r < 128 || r > 768 {
			t.Errorf("of %d MiB a reader has %d", m, r)
		}
		if g := mostGlyphs(m); g < 500_000 || g > 8_000_000 {
			t.Errorf("of %d MiB a document has %d characters", m, g)
		}
	}
}
