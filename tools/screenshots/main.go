// Command screenshots makes the pictures in docs/screenshots: it starts the service
// on the demo's documents and photographs the console and a terminal.
//
//	make pictures
package main

import (
	"bufio"
	"bytes"
	"context"
	"fmt"
	"html"
	"log"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"time"

	"github.com/chromedp/chromedp"

	"jardinet/tools/chromium"
)

const shots = "docs/screenshots"

func main() {
	log.SetFlags(0)
	if err := run(); err != nil {
		log.Fatal("screenshots: ", err)
	}
}

func run() error {
	if len(os.Args) > 1 && os.Args[1] == "hosts" { // it alone takes three hosts
		browser, closeBrowser := chromium.Start()
		defer closeBrowser()
		return hosts(browser)
	}
	data, err := os.MkdirTemp("", "jardinet-shoot-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(data)
	address, stop, err := start(data)
	if err != nil {
		return err
	}
	defer stop()
	browser, closeBrowser := chromium.Start()
	defer closeBrowser()
	if err := terminal(browser, address, "ask-terminal.png", `jardinet ask "How long may seed stay out of the vault?"`); err != nil {
		return err
	}
	glossary := `{"entries":[{"kind":"synonym","term":"icebox","means":"cold store"},{"kind":"abbreviation","term":"DO","means":"duty officer"}]}`
	if err := send(http.MethodPut, address+"/api/v1/collections/halvern/glossary", glossary); err != nil {
		return err
	}
	pages := []struct{ file, path, wait string }{
		{"settings.png", "/c/halvern/settings/words", "main table"},
		{"collections.png", "/", "article"},
		{"ask.png", "/c/halvern/ask?q=What+was+the+highest+gust+in+the+storm%3F&q=What+is+the+set+point+of+the+cold+store%3F", "[data-mark]"},
		{"page.png", "/c/halvern/pages/annual-report-2025.pdf/4", "main svg rect"},
		{"search.png", "/c/halvern/search?query=cold+store+alarm", "main ol img, main aside img"},
		{"list.png", "/c/halvern/search?list=houses", "main aside [data-mark]"},
		{"digest.png", "/c/halvern/pages/seed-vault-manual.pdf/digest", "[data-mark]"},
		{"table.png", "/c/halvern/pages/annual-report-2025.pdf/digest?part=tables&table=3", ".recharts-bar-rectangle, main svg rect"},
	}
	for _, p := range pages {
		if err := shoot(browser, p.file, address+p.path, p.wait); err != nil {
			return fmt.Errorf("%s: %w", p.file, err)
		}
	}
	if err := clicked(browser, "refusal.png", address+"/c/halvern/ask?q=How+many+swans+nest+on+the+lake%3F", "//button[text()='Ask a person']", "main li form input"); err != nil {
		return err
	}
	if err := bench(browser, address); err != nil {
		return err
	}
	if err := intake(browser, address); err != nil {
		return err
	}
	if err := people(browser); err != nil {
		return err
	}
	return hosts(browser)
}

// bench measures, tries another set-up and many, and photographs what comes of it.
func bench(browser context.Context, address string) error {
	dir, err := os.MkdirTemp("", "jardinet-bench-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	report := filepath.Join(dir, "report.html")
	var ids []string // of the measurements
	for _, command := range []string{
		"questions import demo/questions.jsonl --to everyday", "measure everyday", "trial make bolder --certain 0.5", "measure everyday --trial bolder",
		"sweep everyday --target 60,100,160 --passages 8,12 --certain 0.4,0.5,0.6", "report ID --out " + report,
		"trial promote bolder", "measure everyday",
	} {
		args := strings.Fields(command)
		if args[0] == "report" {
			args[1] = ids[0]
		}
		out, err := exec.Command("bin/jardinet", append(args, "--server", address)...).Output()
		if err != nil {
			return fmt.Errorf("%s: %w", command, err)
		}
		if _, rest, ok := strings.Cut(string(out), "Kept as "); ok {
			id, _, _ := strings.Cut(rest, ";")
			ids = append(ids, id)
		}
	}
	accuracy := address + "/c/halvern/accuracy"
	for _, p := range []struct{ file, address, wait, on string }{
		{"accuracy.png", accuracy, ".recharts-line", ""},
		{"measurement.png", accuracy + "/" + ids[0], ".recharts-bar-rectangle", "main section"},
		{"comparison.png", accuracy + "/compare/" + ids[0] + "/" + ids[1], "main circle", ""},
		{"sweep.png", accuracy + "/sweeps", ".recharts-scatter-symbol", "form"},
		{"judging.png", accuracy + "/judge/" + ids[0], "kbd", ""},
		{"report.png", "file://" + report, "svg", ""},
	} {
		if err := shootFrom(browser, p.file, p.address, p.wait, p.on); err != nil {
			return fmt.Errorf("%s: %w", p.file, err)
		}
	}
	return nil
}

// people photographs who may come in, in a service of its own.
func people(browser context.Context) error {
	data, err := os.MkdirTemp("", "jardinet-people-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(data)
	cmd := exec.Command("bin/jardinet", "serve", "--data", data, "--listen", "127.0.0.1:0", "--log", "error")
	stderr, err := cmd.StderrPipe()
	if err != nil {
		return err
	}
	if err := cmd.Start(); err != nil {
		return err
	}
	defer func() { cmd.Process.Kill(); cmd.Wait() }()
	var link string
	for lines := bufio.NewScanner(stderr); link == "" && lines.Scan(); {
		if at := strings.Index(lines.Text(), "http://"); at >= 0 {
			link = lines.Text()[at:]
		}
	}
	address, _, _ := strings.Cut(link, "/begin")
	if err := send(http.MethodPost, address+"/api/v1/collections", `{"name":"halvern"}`); err != nil {
		return err
	}
	tab, closeTab := chromedp.NewContext(browser)
	defer closeTab()
	tab, cancel := context.WithTimeout(tab, 60*time.Second)
	defer cancel()
	const passphrase = "four loose garden words"
	err = chromedp.Do(tab, chromedp.EmulateViewport(1280, 800), chromedp.Navigate(link), chromedp.WaitReady(chromedp.CSS("input[type=password]")),
		chromedp.SendKeys(chromedp.CSS("input[autocomplete=username]"), "edda"), chromedp.SendKeys(chromedp.CSS("input[type=password]"), passphrase))
	if err != nil {
		return err
	}
	err = chromedp.Do(tab, chromedp.Click(chromedp.Search("//button[text()='Begin']")), chromedp.WaitReady(chromedp.CSS("article")))
	if err != nil {
		return fmt.Errorf("begin: %w", err)
	}
	fill := `(async () => {
		const send = (method, path, body) => fetch("/api/v1" + path, {method, headers: {"Content-Type": "application/json"}, body: JSON.stringify(body)})
		await send("POST", "/people", {name: "gwen", passphrase: "other loose garden words", rights: {halvern: "editor"}})
		await send("POST", "/people", {name: "tomos", passphrase: "further loose garden words", rights: {halvern: "reader"}})
		await send("POST", "/keys", {name: "intranet", rights: {halvern: "reader"}, expires: "2027-06-30T21:59:59Z"})
		return true
	})()`
	if _, err := chromedp.Run(tab, chromedp.Evaluate[bool](fill, chromedp.EvalAwaitPromise)); err != nil {
		return err
	}
	if err := chromedp.Do(tab, chromedp.Navigate(address+"/people"), chromedp.WaitReady(chromedp.CSS("main li, main tbody tr"))); err != nil {
		return fmt.Errorf("people.png: %w", err)
	}
	return save(tab, "people.png")
}

// start runs the demo on a free port.
func start(data string) (address string, stop func(), err error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return "", nil, err
	}
	listen := l.Addr().String()
	l.Close()
	cmd := exec.Command("bin/jardinet", "demo", "--data", data, "--listen", listen, "--background")
	if out, err := cmd.CombinedOutput(); err != nil {
		return "", nil, fmt.Errorf("%w: %s", err, out)
	}
	return "http://" + listen, func() { exec.Command("bin/jardinet", "demo", "--data", data, "--stop").Run() }, nil
}

// shoot photographs an address once an element is there and pictures are in.
func shoot(browser context.Context, file, address, wait string) error {
	return shootFrom(browser, file, address, wait, "")
}

// shootFrom photographs what stands from an element on.
func shootFrom(browser context.Context, file, address, wait, from string) error {
	tab, closeTab := chromedp.NewContext(browser)
	defer closeTab()
	tab, cancel := context.WithTimeout(tab, 30*time.Second)
	defer cancel()
	err := chromedp.Do(tab, chromedp.EmulateViewport(1280, 800), chromedp.Navigate(address), chromedp.WaitReady(chromedp.CSS(wait)))
	if err != nil {
		return err
	}
	if _, err := chromedp.Run(tab, chromedp.Poll[bool](`[...document.images].every(i => i.complete || i.loading == "lazy" && i.getBoundingClientRect().top > innerHeight)`)); err != nil {
		return err
	}
	if from != "" {
		scroll := fmt.Sprintf(`(document.querySelector(%q).scrollIntoView(), true)`, from)
		if _, err := chromedp.Run(tab, chromedp.Evaluate[bool](scroll)); err != nil {
			return err
		}
	}
	return save(tab, file)
}

func save(tab context.Context, file string) error {
	png, err := chromedp.Run(tab, chromedp.CaptureScreenshot())
	if err != nil {
		return err
	}
	log.Println(file)
	return os.WriteFile(filepath.Join(shots, file), png, 0o644)
}

// terminal photographs a command and what it prints.
func terminal(browser context.Context, address, file, command string) error {
	// script(1) gives the command a terminal, so that it prints as for a person.
	cmd := exec.Command("script", "-qec", "stty cols 96; bin/"+command, "/dev/null")
	cmd.Env = append(os.Environ(), "JARDINET_SERVER="+address, "TERM=xterm-256color")
	out, err := cmd.Output()
	if err != nil {
		return fmt.Errorf("%s: %w", command, err)
	}
	page := `<meta charset=utf-8><style>body{margin:0;background:#211e19;color:#ece5d6;font:14px/1.42 "Liberation Mono","DejaVu Sans Mono",monospace;padding:22px 26px;white-space:pre-wrap}b{color:#fff}i{font-style:normal;color:#9a917f}u{text-decoration:none;color:#e2b55c}s{text-decoration:none;color:#8cc598}</style><s>$</s> ` +
		html.EscapeString(command) + "\n" + colours(string(bytes.ReplaceAll(out, []byte("\r\n"), []byte("\n"))))
	path := filepath.Join(os.TempDir(), "jardinet-terminal.html")
	if err := os.WriteFile(path, []byte(page), 0o644); err != nil {
		return err
	}
	defer os.Remove(path)
	return shoot(browser, file, "file://"+path, "body")
}

// colours turns the few ANSI styles that the program uses into HTML.
func colours(s string) string {
	tags := map[string]string{"1": "b", "2": "i", "32": "s", "33": "u", "31": "u"}
	var b strings.Builder
	for i, part := range strings.Split(s, "\x1b[") {
		if i == 0 {
			b.WriteString(html.EscapeString(part))
			continue
		}
		code, rest, _ := strings.Cut(part, "m")
		open := tags[code]
		if open != "" {
			b.WriteString("<" + open + ">" + html.EscapeString(rest) + "</" + open + ">")
		} else {
			b.WriteString(html.EscapeString(rest))
		}
	}
	return b.String()
}

// clicked photographs an address after a click on something, once an element is there.
func clicked(browser context.Context, file, address, on, wait string) error {
	tab, closeTab := chromedp.NewContext(browser)
	defer closeTab()
	tab, cancel := context.WithTimeout(tab, 30*time.Second)
	defer cancel()
	err := chromedp.Do(tab, chromedp.EmulateViewport(1280, 800), chromedp.Navigate(address),
		chromedp.Click(chromedp.Search(on)), chromedp.WaitReady(chromedp.CSS(wait)))
	if err != nil {
		return fmt.Errorf("%s: %w", file, err)
	}
	if _, err := chromedp.Run(tab, chromedp.Poll[bool](`(scrollTo(0, 0), [...document.images].every(i => i.complete))`)); err != nil {
		return fmt.Errorf("%s: %w", file, err)
	}
	return save(tab, file)
}

// intake photographs the intake while pages are being read. The documents are
// the demo's, repeated so that there is something to see.
func intake(browser context.Context, address string) error {
	if err := send(http.MethodPost, address+"/api/v1/collections", `{"name":"garden"}`); err != nil {
		return err
	}
	tab, closeTab := chromedp.NewContext(browser)
	defer closeTab()
	tab, cancel := context.WithTimeout(tab, 60*time.Second)
	defer cancel()
	if err := chromedp.Do(tab, chromedp.EmulateViewport(1280, 800), chromedp.Navigate(address+"/c/garden/intake"), chromedp.WaitReady(chromedp.CSS("main section"))); err != nil {
		return err
	}
	add := exec.Command("bin/jardinet", "add", "demo/documents", "--to", "garden", "--server", address)
	if out, err := add.CombinedOutput(); err != nil {
		return fmt.Errorf("%w: %s", err, out)
	}
	if err := chromedp.Do(tab, chromedp.WaitReady(chromedp.CSS("[role=progressbar]"))); err != nil {
		return err
	}
	return save(tab, "intake.png")
}

func send(method, address, body string) error {
	req, err := http.NewRequest(method, address, strings.NewReader(body))
	if err != nil {
		return err
	}
	req.Header.Set("Content-Type", "application/json")
	resp, err := http.DefaultClient.Do(req)
	if err != nil {
		return err
	}
	defer resp.Body.Close()
	if resp.StatusCode >= 300 {
		return fmt.Errorf("%s: %s", address, resp.Status)
	}
	return nil
}
