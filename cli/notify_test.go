package cli

import "testing"

func TestNotify(t *testing.T) {
	start(t)
	run(t, 0, "collection", "create", "garden")
	out, _ := run(t, 0, "notify", "--in", "garden")
	contains(t, "before", out, "No program is told", "alarm")
	out, _ = run(t, 0, "notify", "alarm", "--on", "document.ready,document.failed", "--in", "garden")
	contains(t, "the list", out, "WEBHOOK", "alarm", "no", "document.failed, document.ready")
	for says, args := range map[string][]string{
		"say what alarm shall be told":  {"notify", "alarm", "--in", "garden"},
		"there is no webhook \"rota\"":  {"notify", "rota", "--on", "document.ready", "--in", "garden"},
		"there is no event \"nothing\"": {"notify", "alarm", "--on", "nothing", "--in", "garden"},
	} {
		_, errs := run(t, 1, args...)
		contains(t, "what is wrong", errs, says)
	}
	out, _ = run(t, 0, "notify", "alarm", "--off", "--in", "garden")
	contains(t, "after", out, "No program is told")
}
