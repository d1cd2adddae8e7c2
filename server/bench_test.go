package server

import (
	"bytes"
	"fmt"
	"strings"

	"jardinet/api"
)

const aSet = `{"id":"a","question":"How long may seed stay out of the cold store?","answer":"Four hours","accept":["four hours"],"evidence":[{"document":"seed-vault-manual.pdf","page":4,"quote":"four hours"}],"tags":["lookup"],"split":"dev"}
{"id":"b","question":"Who keeps the tigers?","answerable":false,"tags":["not said"]}
`

// ended waits for a job that an answer describes.
func (r *running) ended(answer []byte) api.Job {
	r.t.Helper()
	var j api.Job
	decode(r.t, answer, &j)
	for !j.Ended() {
		decode(r.t, r.want(200, "GET", "/collections/garden/jobs/"+j.ID+"?wait=20", "", ""), &j)
	}
	if j.State != api.Done {
		r.t.Fatalf("%s is %s: %s", j.What, j.State, j.Problem)
	}
	return j
}

// bench goes the way of a knowledge engineer: questions, a measurement, a trial, a comparison.
func (r *running) bench() {
	r.t.Helper()
	r.sets()
	const garden = "/collections/garden"
	before := r.ended(r.want(202, "POST", garden+"/measurements?name=q.jsonl", "application/octet-stream", aSet)).Result
	r.want(422, "POST", garden+"/measurements?name=q.jsonl", "application/octet-stream", "nothing")
	r.want(404, "POST", garden+"/measurements?set=none", "", "")
	r.want(404, "POST", garden+"/measurements?set=first&trial=none", "", "")
	r.want(422, "POST", garden+"/measurements?set=first&split=test", "", "")
	r.trials(before)
	r.judges(before)
	r.want(200, "GET", "/measurements/"+before, "", "")
	r.want(200, "GET", "/measurements", "", "")
	r.want(200, "GET", garden+"/measurements", "", "")
	r.want(204, "DELETE", "/measurements/"+before, "", "")
	r.want(404, "GET", "/measurements/"+before, "", "")
	if all := r.want(200, "GET", garden+"/jobs", "", ""); !bytes.Contains(all, []byte(`"kind":"sweep"`)) {
		r.t.Errorf("the jobs are %s", all)
	}
	r.want(404, "GET", garden+"/jobs/none", "", "")
	r.want(404, "DELETE", garden+"/jobs/none", "", "")
	r.want(200, "GET", garden+"/watch", "", "")
	r.want(200, "PUT", garden+"/watch", asJSON, `{"set":"first","require":["page_recall@5>=0.5"]}`)
	r.want(422, "PUT", garden+"/watch", asJSON, `{"set":"first","require":["colour>=0.5"]}`)
	r.want(422, "PUT", garden+"/watch", asJSON, `{"set":"first","webhook":"none"}`)
	r.want(200, "GET", garden+"/hooks", "", "")
	r.want(200, "PUT", garden+"/hooks/alarm", asJSON, `{"events":["document.ready"]}`)
	r.want(422, "PUT", garden+"/hooks/alarm", asJSON, `{"events":[]}`)
	r.want(422, "PUT", garden+"/hooks/none", asJSON, `{"events":["document.ready"]}`)
	r.want(204, "DELETE", garden+"/hooks/alarm", "", "")
	r.want(404, "DELETE", garden+"/hooks/alarm", "", "")
	r.want(200, "PUT", garden+"/watch", asJSON, `{"set":"","off":true}`)
	r.want(204, "DELETE", garden+"/sets/first", "", "")
	r.want(404, "DELETE", garden+"/sets/first", "", "")
}

func (r *running) sets() {
	r.t.Helper()
	const first = "/collections/garden/sets/first"
	r.want(200, "PUT", first, "application/octet-stream", aSet)
	r.want(422, "PUT", "/collections/garden/sets/No%20good", "application/octet-stream", aSet)
	r.want(422, "PUT", first+"?as=csv", "application/octet-stream", "colour\nred\n")
	r.want(200, "PUT", first+"?as=trec&add=true", asJSON, `{"topics":"t1\tWho has the keys?\n","qrels":"t1 0 seed-vault-manual.pdf:5 1\n"}`)
	r.want(422, "PUT", first+"?as=trec", asJSON, `{"topics":"no tab"}`)
	r.want(200, "PUT", first+"/questions/c", asJSON, `{"id":"c","question":"When is the vault opened?"}`)
	r.want(422, "PUT", first+"/questions/c", asJSON, `{"id":"d","question":"When is the vault opened?"}`)
	if set := r.want(200, "DELETE", first+"/questions/c", "", ""); !bytes.Contains(set, []byte(`"version":4`)) {
		r.t.Errorf("after three changes the set is %s", set)
	}
	r.want(404, "DELETE", first+"/questions/c", "", "")
	r.want(422, "GET", first+"?version=9", "", "")
	if old := r.want(200, "GET", first+"?version=3", "", ""); !bytes.Contains(old, []byte("When is the vault opened?")) {
		r.t.Errorf("version 3 is %s", old)
	}
	for format, want := range map[string]string{"jsonl": `"split":"dev"`, "csv": "seed-vault-manual.pdf:4", "topics": "<title> Who has the keys?", "qrels": "a 0 seed-vault-manual.pdf:4 1"} {
		if file := r.want(200, "GET", first+"?format="+format, "", ""); !strings.Contains(string(file), want) {
			r.t.Errorf("as %s the set is %s", format, file)
		}
	}
	r.want(400, "GET", first+"?format=docx", "", "")
	r.want(200, "GET", "/collections/garden/sets", "", "")
	r.want(204, "POST", "/collections/garden/reports", asJSON, `{"question":"Who waters the ferns?","says":"missing","comment":"It is Ida."}`)
	r.want(422, "POST", "/collections/garden/reports", asJSON, `{"question":"Who waters the ferns?","says":"boring"}`)
	var said struct{ Reports []api.Report }
	decode(r.t, r.want(200, "GET", "/collections/garden/reports", "", ""), &said)
	report := "/collections/garden/reports/" + said.Reports[0].ID
	r.want(204, "PUT", report, asJSON, `{"done":true}`)
	r.want(204, "PUT", report, asJSON, `{"done":false}`)
	r.want(404, "PUT", "/collections/garden/reports/77", asJSON, `{"done":true}`)
	if set := r.want(200, "POST", first+"/gather", asJSON, `{"from":"reports"}`); !bytes.Contains(set, []byte(`"drafts":1`)) {
		r.t.Errorf("with what readers reported the set is %s", set)
	}
	r.want(422, "POST", first+"/gather", asJSON, `{"from":"hearsay"}`)
	r.ended(r.want(202, "POST", first+"/draft", asJSON, `{"questions":3}`))
	r.want(422, "POST", first+"/draft", asJSON, `{"questions":0}`)
	r.want(404, "POST", first+"/draft", asJSON, `{"questions":1,"documents":["none.pdf"]}`)
	if all := r.want(200, "GET", first+"?drafts=true", "", ""); bytes.Count(all, []byte(`"draft":true`)) < 3 {
		r.t.Errorf("with drafts the set is %s", all)
	}
	if found := r.want(200, "GET", first+"/review", "", ""); !bytes.Contains(found, []byte(`"stale":[]`)) || !bytes.Contains(found, []byte(`"section":"1.2 The rule`)) {
		r.t.Errorf("the review is %s", found)
	}
	r.want(404, "GET", "/collections/garden/sets/none/review", "", "")
}

func (r *running) trials(before string) {
	r.t.Helper()
	const trials = "/collections/garden/trials"
	r.ended(r.want(202, "PUT", trials+"/by-words", asJSON, `{"recipe":{"name":"","version":1,"passage":{"target":60,"overlap":10},"retrieval":"words"},"certain":0.4,"passages":6}`))
	r.want(422, "PUT", trials+"/live", asJSON, `{"recipe":{"name":"","version":1,"passage":{"target":60,"overlap":10}}}`)
	r.want(422, "PUT", trials+"/bad", asJSON, `{"recipe":{"name":"","version":1,"passage":{"target":60,"overlap":10}},"certain":3}`)
	r.want(200, "POST", trials+"/by-words/ask", asJSON, `{"question":"How long may seed stay out of the cold store?"}`)
	r.want(200, "POST", trials+"/live/ask", asJSON, `{"question":"How long may seed stay out of the cold store?","trace":true}`)
	r.want(404, "POST", trials+"/none/ask", asJSON, `{"question":"When?"}`)
	after := r.ended(r.want(202, "POST", "/collections/garden/measurements?set=first&trial=by-words", "", "")).Result
	comparison := r.want(200, "GET", "/measurements/"+after+"/compare/"+before, "", "")
	if !bytes.Contains(comparison, []byte(`"questions":2`)) {
		r.t.Errorf("compared: %s", comparison)
	}
	r.want(404, "GET", "/measurements/"+after+"/compare/none", "", "")
	for _, format := range []string{"html", "markdown", "junit", "run"} {
		r.want(200, "GET", fmt.Sprintf("/measurements/%s/report?format=%s&against=%s", after, format, before), "", "")
	}
	r.want(400, "GET", "/measurements/"+after+"/report?format=docx", "", "")
	r.ended(r.want(202, "POST", "/collections/garden/sweeps", asJSON, `{"set":"first","targets":[60,120],"certain":[0.3,0.6]}`))
	r.want(404, "POST", "/collections/garden/sweeps", asJSON, `{"set":"none"}`)
	r.want(422, "POST", "/collections/garden/sweeps", asJSON, `{"set":"first","targets":[1]}`)
	r.want(422, "POST", "/collections/garden/sweeps", asJSON, `{"set":"first","figure":"colour"}`)
	if all := r.want(200, "GET", "/collections/garden/sweeps", "", ""); bytes.Count(all, []byte(`"p50_ms"`)) != 5 {
		r.t.Errorf("two lengths and two thresholds, and the live set-up: %s", all)
	}
	if live := r.want(200, "POST", trials+"/by-words/promote", "", ""); !bytes.Contains(live, []byte(`"retrieval":"words"`)) {
		r.t.Errorf("promoted: %s", live)
	}
	if all := r.want(200, "GET", trials, "", ""); !bytes.Contains(all, []byte(`"trials":[]`)) || !bytes.Contains(all, []byte(`was promoted`)) {
		r.t.Errorf("the trials are %s", all)
	}
	if live := r.want(200, "POST", "/collections/garden/setups/1", "", ""); bytes.Contains(live, []byte(`"retrieval":"words"`)) {
		r.t.Errorf("put back: %s", live)
	}
	r.want(404, "POST", "/collections/garden/setups/9", "", "")
	r.ended(r.want(202, "PUT", trials+"/other", asJSON, `{"recipe":{"name":"","version":1,"passage":{"target":60,"overlap":10}}}`))
	r.want(204, "DELETE", trials+"/other", "", "")
	r.want(404, "DELETE", trials+"/other", "", "")
}

func (r *running) judges(id string) {
	r.t.Helper()
	at := "/measurements/" + id + "/judge"
	var next struct{ Next *api.ToJudge }
	decode(r.t, r.want(200, "GET", at, "", ""), &next)
	for n := 2; next.Next != nil; n-- {
		if next.Next.Left != n || next.Next.Of != 2 {
			r.t.Fatalf("%+v is next, with %d left", next.Next, n)
		}
		decode(r.t, r.want(200, "POST", at, asJSON, `{"ticket":"`+next.Next.Ticket+`","says":"right"}`), &next)
	}
	r.want(422, "POST", at, asJSON, `{"ticket":"none","says":"right"}`)
	if found := r.want(200, "GET", "/measurements/"+id+"/verdicts", "", ""); !bytes.Contains(found, []byte(`"says":"right"`)) {
		r.t.Errorf("the verdicts are %s", found)
	}
	if m := r.want(200, "GET", "/measurements/"+id+"?judged=true", "", ""); !bytes.Contains(m, []byte(`"judged":true,"subject"`)) {
		r.t.Errorf("judged: %s", m)
	}
}
