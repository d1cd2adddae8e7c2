package main

import (
	"context"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"time"
)

// hosts starts three hosts on this machine's own addresses, puts the demo's documents in, ends one, and
// photographs what the console says of them.
func hosts(browser context.Context) error {
	dir, err := os.MkdirTemp("", "jardinet-hosts-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	names := []string{"glasshouse", "herbarium", "orangery"}
	var among, urls []string
	for i := range names {
		among = append(among, fmt.Sprintf("127.0.0.%d:16222", i+1))
		urls = append(urls, fmt.Sprintf("nats://127.0.0.%d:14222", i+1))
	}
	var running []*exec.Cmd
	begin := func(args ...string) error {
		cmd := exec.Command("bin/jardinet", args...)
		running = append(running, cmd)
		return cmd.Start()
	}
	defer func() {
		for i := len(running) - 1; i >= 0; i-- {
			_ = running[i].Process.Signal(os.Interrupt)
			_ = running[i].Wait()
		}
	}()
	address := func(i int) string { return fmt.Sprintf("127.0.0.%d:18090", i+1) }
	for i, name := range names {
		err := begin("nats", "--name", name, "--data", filepath.Join(dir, "nats"+name), "--listen", strings.TrimPrefix(urls[i], "nats://"), "--among", among[i], "--peers", strings.Join(among, ","))
		if err != nil {
			return err
		}
	}
	for i, name := range names {
		if err := begin("serve", "--data", filepath.Join(dir, name), "--listen", address(i), "--name", name, "--cluster", strings.Join(urls, ","), "--log", "error"); err != nil {
			return err
		}
	}
	for i := range names {
		if err := ready("http://" + address(i)); err != nil {
			return err
		}
	}
	for _, command := range []string{"collection create halvern", "add demo/documents --to halvern --wait"} {
		if out, err := exec.Command("bin/jardinet", append(strings.Fields(command), "--server", "http://"+address(0))...).CombinedOutput(); err != nil {
			return fmt.Errorf("%s: %w: %s", command, err, out)
		}
	}
	time.Sleep(15 * time.Second) // until the shards are spread evenly
	_ = running[len(running)-1].Process.Kill()
	time.Sleep(14 * time.Second) // until the others have noticed
	return shoot(browser, "hosts.png", "http://"+address(0)+"/hosts", "main section table")
}

// ready waits until a host answers.
func ready(address string) error {
	var err error
	for range 300 {
		var resp *http.Response
		if resp, err = http.Get(address + "/readyz"); err == nil {
			resp.Body.Close()
			if resp.StatusCode == http.StatusOK {
				return nil
			}
			err = fmt.Errorf("%s answers %s", address, resp.Status)
		}
		time.Sleep(200 * time.Millisecond)
	}
	return err
}
