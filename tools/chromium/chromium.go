// Package chromium starts a browser without a window and shows it documents, for printing
// and for pictures.
package chromium

import (
	"context"
	"os"

	"github.com/chromedp/chromedp"
)

// Start starts a browser, which runs until it is stopped.
func Start() (browser context.Context, stop func()) {
	options := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.NoSandbox, chromedp.DisableGPU)
	allocator, stopAllocator := chromedp.NewExecAllocator(context.Background(), options...)
	browser, stopBrowser := chromedp.NewContext(allocator)
	return browser, func() { stopBrowser(); stopAllocator() }
}

// Show opens an HTML document in a new tab, after what has to be done before, and returns
// what an action makes of it.
func Show(browser context.Context, document string, action chromedp.Action[[]byte], before ...chromedp.Action[chromedp.Void]) ([]byte, error) {
	file, err := os.CreateTemp("", "*.html")
	if err != nil {
		return nil, err
	}
	defer os.Remove(file.Name())
	if _, err := file.WriteString(document); err != nil {
		return nil, err
	}
	if err := file.Close(); err != nil {
		return nil, err
	}
	tab, closeTab := chromedp.NewContext(browser)
	defer closeTab()
	if err := chromedp.Do(tab, append(before, chromedp.Navigate("file://"+file.Name()))...); err != nil {
		return nil, err
	}
	return chromedp.Run(tab, action)
}
