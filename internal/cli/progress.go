package cli

import (
	"bytes"
	"fmt"
	"io"
	"os"

	"github.com/schollz/progressbar/v3"
	"golang.org/x/term"
)

// watched reports whether somebody looks at a terminal, where progress is shown.
func (a *app) watched() bool {
	to := a.err
	if p, is := to.(plain); is {
		to = p.to
	}
	file, ok := to.(*os.File)
	return ok && !a.json && term.IsTerminal(int(file.Fd()))
}

// progress shows how much of an upload was read, if there is somebody to see it.
func (a *app) progress(text []byte, what string) io.Reader {
	if !a.watched() {
		return bytes.NewReader(text)
	}
	bar := progressbar.NewOptions(len(text), progressbar.OptionSetWriter(a.err), progressbar.OptionSetDescription(what),
		progressbar.OptionShowBytes(true), progressbar.OptionSetWidth(24), progressbar.OptionOnCompletion(func() { fmt.Fprintln(a.err) }))
	reader := progressbar.NewReader(bytes.NewReader(text), bar)
	return &reader
}

// stepwise shows the steps of long work, if there is somebody to see them.
func (a *app) stepwise(what string) func(step string, done, all int) {
	if !a.watched() {
		return nil
	}
	var bar *progressbar.ProgressBar
	return func(step string, done, all int) {
		if bar == nil {
			bar = progressbar.NewOptions(all, progressbar.OptionSetWriter(a.err), progressbar.OptionSetWidth(24), progressbar.OptionClearOnFinish())
		}
		bar.Describe(what + ": " + step)
		_ = bar.Set(done)
	}
}
