//go:build !client

package cli

import (
	"os"
	"path/filepath"
	"regexp"
	"testing"

	"jardinet/answer"
	"jardinet/api"
)

// TestTeachingACollection goes the way of an engineer who gives a collection its
// words and manner, and of a reader who keeps a conversation.
func TestTeachingACollection(t *testing.T) {
	start(t)
	run(t, 0, "collection", "create", "garden")
	run(t, 0, "add", documents+"seed-vault-manual.pdf", "--to", "garden", "--wait")

	out, _ := run(t, 0, "glossary", "show")
	contains(t, "an empty glossary", out, "No entry yet")
	run(t, 0, "glossary", "add", "synonym", "icebox", "cold store")
	out, _ = run(t, 0, "find", "icebox", "--explain", "--top", "1")
	contains(t, "the explanation", out, "icebox (idf", "words +", "nearest +")
	out, _ = run(t, 0, "glossary", "export")
	contains(t, "the export", out, "kind,term,means", "synonym,icebox,cold store")
	file := filepath.Join(t.TempDir(), "glossary.csv")
	if err := os.WriteFile(file, []byte("kind,term,means\nabbreviation,VK,Vault Keeper\n"), 0o644); err != nil {
		t.Fatal(err)
	}
	out, _ = run(t, 0, "glossary", "import", file)
	contains(t, "the import", out, "1 entries")
	_, errs := run(t, 1, "glossary", "remove", "icebox")
	contains(t, "removing what is not there", errs, "no entry")
	run(t, 0, "glossary", "remove", "vk")
	_, errs = run(t, 1, "glossary", "add", "rhyme", "a", "b")
	contains(t, "an unknown kind", errs, "use synonym")

	lessons(t)

	run(t, 0, "style", "--statements", "1", "--add", "Ask the keeper in doubt.")
	out, _ = run(t, 0, "style")
	contains(t, "the style", out, "at most 1", "Ask the keeper in doubt.", "the program")
	_, errs = run(t, 1, "style", "--model-url", "nowhere", "--model-name", "m")
	contains(t, "a bad address", errs, "http://host:port")

	out, _ = run(t, 0, "ask", "What is the set point of the cold store?", "--conversation", "new", "--trace")
	contains(t, "a traced answer", out, "Ask the keeper in doubt.", "How it came about", "relevance +", "Confidence", "Saved.")
	id := regexp.MustCompile(`--conversation (\S+)`).FindStringSubmatch(out)
	if id == nil {
		t.Fatalf("no conversation is named in %s", out)
	}
	var a answer.Answer
	runJSON(t, &a, "ask", "And its tolerance?", "--conversation", id[1])
	if a.Standalone == a.Question {
		t.Errorf("the conversation is not heeded: %+v", a.Standalone)
	}
	out, _ = run(t, 0, "conversations", "list")
	contains(t, "the conversations", out, id[1], "What is the set point")
	out, _ = run(t, 0, "conversations", "show", id[1])
	contains(t, "one as Markdown", out, "## And its tolerance?", "/c/garden/pages/seed-vault-manual.pdf/")
	out, _ = run(t, 0, "conversations", "show", id[1], "--format", "questions")
	contains(t, "one as questions", out, `"after":["What is the set point of the cold store?"]`)
	run(t, 0, "conversations", "remove", id[1])
	out, _ = run(t, 0, "conversations", "list")
	contains(t, "no conversation", out, "No conversation is kept")
	run(t, 0, "style", "--plain")
}

// lessons shows where the answers to readers' questions stand.
func lessons(t *testing.T) {
	t.Helper()
	out, _ := run(t, 0, "lessons", "show")
	contains(t, "no lesson", out, "No lesson yet")
	const question = "Do the wee tickets go?"
	at := []string{"--document", "seed-vault-manual.pdf", "--page", "17", "--quote", "Cards are kept for ever"}
	out, _ = run(t, 0, append([]string{"lessons", "add", question}, at...)...)
	contains(t, "the first lesson", out, "garden has 1 lesson.")
	out, _ = run(t, 0, "ask", question, "--trace")
	contains(t, "what was taught", out, "Cards are kept for ever", "Lessons", "1.000  "+question)
	_, errs := run(t, 1, "lessons", "add", question)
	contains(t, "a lesson without a place", errs, "document")
	out, _ = run(t, 0, "lessons", "export")
	contains(t, "the export", out, question, `"quote":"Cards are kept for ever"`)

	file := filepath.Join(t.TempDir(), "lessons.jsonl")
	set := out + `{"id":"x","question":"Where is the pool?","answerable":false}` + "\n" +
		`{"id":"y","question":"Who feeds the seals?","evidence":[{"document":"seals.pdf","page":1,"quote":"fed by"}]}` + "\n"
	if err := os.WriteFile(file, []byte(set), 0o644); err != nil {
		t.Fatal(err)
	}
	out, _ = run(t, 0, "lessons", "import", file)
	contains(t, "the import", out, "2 lessons, 1 not used")
	out, _ = run(t, 0, "lessons", "show", "--unused")
	contains(t, "those not used", out, "Who feeds the seals?", "seals.pdf is not there")
	if regexp.MustCompile("wee tickets").MatchString(out) {
		t.Errorf("what is used is listed among what is not: %s", out)
	}
	run(t, 0, "lessons", "remove", "who feeds the seals?")
	out, _ = run(t, 0, "lessons", "show", "--unused")
	contains(t, "none is unused", out, "None of 1 lesson is unused")
	_, errs = run(t, 1, "lessons", "remove", "who feeds the seals?")
	contains(t, "removing what is not there", errs, "no lesson has the id")
}

func TestIndexCommands(t *testing.T) {
	start(t)
	run(t, 0, "collection", "create", "garden")
	run(t, 0, "add", documents+"seed-vault-manual.pdf", "--to", "garden", "--wait")
	out, _ := run(t, 0, "index", "check")
	contains(t, "the check", out, "is sound")
	var c api.Collection
	runJSON(t, &c, "index", "rebuild")
	if c.Passages == 0 {
		t.Errorf("rebuilt %+v", c)
	}
	out, _ = run(t, 0, "find", `"cold store" -alarm`, "--top", "3")
	contains(t, "a phrase", out, "seed-vault-manual.pdf")
	_, errs := run(t, 1, "simulated-model", "--mode", "sings")
	contains(t, "an unknown mode", errs, "choose one of")
}
