// Package cli is the command line: the service, and everything a maker, a
// player or a script does with one.
package cli

import (
	"cmp"
	"context"
	"crypto/tls"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"net/http"
	"net/url"
	"os"
	"os/signal"
	"path/filepath"
	"runtime/debug"
	"slices"
	"strings"
	"syscall"
	"time"

	"github.com/spf13/cobra"
	"github.com/spf13/pflag"
	"go.yaml.in/yaml/v4"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service"
	"damselfly.example/damselfly/internal/service/api"
)

// defaultServer is where a service answers that was given no address.
const defaultServer = "http://127.0.0.1:7171"

// Exit codes, for scripts.
const (
	exitDone        = 0
	exitFailed      = 1 // something unexpected
	exitUsage       = 2 // the command line was wrong
	exitRefused     = 3 // an ordinary "no": a refusal, a mistake in a file, a warning not accepted
	exitUnreachable = 4 // no service answers there
)

// app is what all commands share.
type app struct {
	out, err io.Writer
	json     bool
	only     string // the one field that is to be printed
	server   string
	key      string
	data     string
}

// Main runs the command line and returns the exit code.
func Main(args []string, out, errs io.Writer) int {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	a := &app{}
	a.out, a.err = plain{out, &a.json}, plain{errs, &a.json}
	root := a.root()
	a.json = slices.Contains(args, "--json") // also for command lines that are not understood
	root.SetArgs(args)
	root.SetOut(a.out)
	root.SetErr(a.err)
	return a.exit(root.ExecuteContext(ctx))
}

func (a *app) root() *cobra.Command {
	root := &cobra.Command{
		Use:   "damselfly",
		Short: "A rules-free shared card table for people who make tabletop games",
		Long: "A rules-free shared card table for people who make tabletop games.\n\n" +
			"Each option can also be set by an environment variable (--server as DAMSELFLY_SERVER) or in a file\n" +
			"config.yaml in the configuration folder (server: …); an option given here is the strongest.\n\n" +
			"Exit codes: 0 done, 1 failed, 2 wrong command line, 3 refused, 4 no service answers.\n\n" +
			"With --json every command prints what the service answers, as docs/openapi.json has it, or an object of what it did;\n" +
			"what goes on prints an object a line. Errors are problems on standard error, with \"exit\", the exit code.",
		Version:       version(),
		SilenceUsage:  true,
		SilenceErrors: true,
		PersistentPreRunE: func(cmd *cobra.Command, _ []string) error {
			return a.fillFlags(cmd.Root(), cmd.Flags())
		},
	}
	root.SetFlagErrorFunc(func(cmd *cobra.Command, err error) error {
		return usage("%w; see %s --help", err, cmd.CommandPath())
	})
	flags := root.PersistentFlags()
	flags.BoolVar(&a.json, "json", false, "print JSON for programs")
	flags.StringVar(&a.only, "only", "", "print nothing but this `field` of the JSON, for scripts")
	flags.StringVar(&a.server, "server", defaultServer, "address of the service")
	flags.StringVar(&a.key, "key", "", "maker key (default: the one in the data folder)")
	flags.StringVar(&a.data, "data", defaultData(), "folder for the service's own data")
	root.AddCommand(a.serve(), a.demo(), a.sheet(), a.deck(), a.card(), a.kit(), a.room(), a.bookmark(), a.makers(), a.join(), a.look(), a.do(), a.undo(), a.peek(), a.ask(), a.answer(), a.where(),
		a.watch(), a.log(), a.steps(), a.practise())
	root.AddCommand(a.keeping()...)
	sayHowItIsWritten(root)
	nameTheNearest(root)
	a.completeWords(root)
	return root
}

// version is the program's, with the commit that it was built from where that is known.
func version() string {
	built, known := debug.ReadBuildInfo()
	if !known {
		return api.Version
	}
	commit, changed := "", ""
	for _, s := range built.Settings {
		switch {
		case s.Key == "vcs.revision":
			commit = s.Value[:min(12, len(s.Value))]
		case s.Key == "vcs.modified" && s.Value == "true":
			changed = ", with changes"
		}
	}
	if commit == "" {
		return api.Version
	}
	return fmt.Sprintf("%s (commit %s%s)", api.Version, commit, changed)
}

// sayHowItIsWritten has commands that are given too few words, or too many, answer with
// how they are written.
func sayHowItIsWritten(cmd *cobra.Command) {
	for _, below := range cmd.Commands() {
		sayHowItIsWritten(below)
	}
	if cmd.Args == nil {
		return
	}
	count := cmd.Args
	cmd.Args = func(c *cobra.Command, args []string) error {
		if count(c, args) == nil {
			return nil
		}
		example, _, _ := strings.Cut(strings.TrimSpace(c.Example), "\n")
		return usage("this is written: %s\n  such as: %s", strings.TrimSuffix(c.UseLine(), " [flags]"), example)
	}
}

// nameTheNearest has groups of commands answer a word that is none of them with the nearest.
func nameTheNearest(group *cobra.Command) {
	var names []string
	for _, below := range group.Commands() {
		nameTheNearest(below)
		names = append(names, below.Name())
	}
	if group.Runnable() || len(names) == 0 {
		return
	}
	group.Args = cobra.ArbitraryArgs
	group.RunE = func(cmd *cobra.Command, args []string) error {
		if len(args) == 0 {
			return cmd.Help()
		}
		hint := cmp.Or(table.DidYouMean(args[0], names), "; there is "+strings.Join(names, ", "))
		return usage("there is no command %q%s", strings.TrimPrefix(cmd.CommandPath()+" "+args[0], cmd.Root().Name()+" "), hint)
	}
}

func defaultData() string {
	if folder := os.Getenv("XDG_DATA_HOME"); folder != "" {
		return filepath.Join(folder, "damselfly")
	}
	home, err := os.UserHomeDir()
	if err != nil {
		return "damselfly-data"
	}
	return filepath.Join(home, ".local", "share", "damselfly")
}

func configFolder() (string, error) {
	folder, err := os.UserConfigDir()
	return filepath.Join(folder, "damselfly"), err
}

// fillFlags sets options that were not given, from the environment or else
// the configuration file.
func (a *app) fillFlags(root *cobra.Command, flags *pflag.FlagSet) error {
	config := map[string]any{}
	if folder, err := configFolder(); err == nil {
		file := filepath.Join(folder, "config.yaml")
		if text, err := os.ReadFile(file); err == nil {
			if err := yaml.Unmarshal(text, &config); err != nil {
				return fmt.Errorf("%s: %w", file, err)
			}
		}
	}
	if err := a.knownOptions(root, config); err != nil {
		return err
	}
	a.json = a.json || a.only != ""
	var failed error
	flags.VisitAll(func(f *pflag.Flag) {
		value, set := os.LookupEnv("DAMSELFLY_" + strings.ToUpper(strings.ReplaceAll(f.Name, "-", "_")))
		if fromFile, ok := config[f.Name]; ok && !set {
			value, set = fmt.Sprint(fromFile), true
		}
		if set && !f.Changed && failed == nil {
			failed = flags.Set(f.Name, value)
		}
	})
	if u, err := url.Parse(a.server); failed == nil && (err != nil || u.Host == "" || u.Scheme != "http" && u.Scheme != "https") {
		return usage("the address of a service begins with http:// or https://, such as %s; --server is %q", defaultServer, a.server)
	}
	return failed
}

// knownOptions refuses settings in the configuration file that no command has, and tells of such DAMSELFLY_
// variables, which may be somebody else's.
func (a *app) knownOptions(root *cobra.Command, config map[string]any) error {
	known := map[string]bool{"help": true}
	var collect func(cmd *cobra.Command)
	collect = func(cmd *cobra.Command) {
		cmd.LocalFlags().VisitAll(func(f *pflag.Flag) { known[f.Name] = true })
		for _, below := range cmd.Commands() {
			collect(below)
		}
	}
	collect(root)
	names := slices.Sorted(maps.Keys(known))
	for _, name := range slices.Sorted(maps.Keys(config)) {
		if !known[name] {
			return usage("config.yaml has %q, which is no option%s", name, table.DidYouMean(name, names))
		}
	}
	for _, variable := range os.Environ() {
		name, _, _ := strings.Cut(variable, "=")
		option, ours := strings.CutPrefix(name, "DAMSELFLY_")
		option = strings.ToLower(strings.ReplaceAll(option, "_", "-"))
		if ours && !known[option] {
			fmt.Fprintf(a.err, "damselfly: the environment has %s, and there is no option --%s%s\n", name, option, table.DidYouMean(option, names))
		}
	}
	return nil
}

// maker is the service as its makers see it.
func (a *app) maker() (*client.Client, error) {
	if a.key == "" {
		file := filepath.Join(a.data, service.KeyFile)
		text, err := os.ReadFile(file)
		if err != nil {
			return nil, refused("there is no maker key: give one with --key, or name the data folder of a service on this machine with --data (looked in %s)", file)
		}
		a.key = strings.TrimSpace(string(text))
	}
	return client.New(a.server, a.key), nil
}

// asMaker gives a command what it does with the maker's key.
func (a *app) asMaker(cmd *cobra.Command, do func(*cobra.Command, *client.Client, []string) error) *cobra.Command {
	cmd.RunE = func(cmd *cobra.Command, args []string) error {
		maker, err := a.maker()
		if err != nil {
			return err
		}
		return do(cmd, maker, args)
	}
	return cmd
}

// asKeeper gives a command what it does with the keeper's key.
func (a *app) asKeeper(cmd *cobra.Command, do func(*cobra.Command, *client.Client, []string) error) *cobra.Command {
	cmd.RunE = func(cmd *cobra.Command, args []string) error {
		if err := a.whenAnswering(cmd.Context()); err != nil {
			return err
		}
		keeper, err := a.keeper()
		if err != nil {
			return err
		}
		return do(cmd, keeper, args)
	}
	return cmd
}

// startPatience is how long a service that is starting is waited for.
const startPatience = time.Minute

// whenAnswering waits for a service that runs on the data folder and does not answer yet, with a word.
func (a *app) whenAnswering(ctx context.Context) error {
	answers := func() bool {
		ask, cancel := context.WithTimeout(ctx, time.Second)
		defer cancel()
		request, err := http.NewRequestWithContext(ask, http.MethodGet, a.server+"/healthz", nil)
		if err != nil {
			return true // which is said where it is asked
		}
		answer, err := http.DefaultClient.Do(request)
		if err == nil {
			_ = answer.Body.Close()
		}
		return err == nil
	}
	if answers() || !service.Running(a.data) {
		return nil
	}
	fmt.Fprintf(a.err, "The service is starting; waiting until it answers at %s …\n", a.server)
	for end := time.Now().Add(startPatience); time.Now().Before(end) && service.Running(a.data); {
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(200 * time.Millisecond):
		}
		if answers() {
			break
		}
	}
	return nil
}

// done ends a command: with a sentence, or for programs with what came of it.
func (a *app) done(v any, format string, args ...any) error {
	if a.json {
		return a.printJSON(v)
	}
	fmt.Fprintf(a.out, format+"\n", args...)
	return nil
}

// line prints one of many things that happen: a sentence, or for programs an object on a line of its own.
func (a *app) line(v any, format string, args ...any) {
	if !a.json {
		fmt.Fprintf(a.out, format+"\n", args...)
		return
	}
	text, err := json.Marshal(v)
	if err == nil {
		fmt.Fprintln(a.out, string(text))
	}
}

// written is a file that a command wrote, for programs.
type written struct {
	File  string `json:"file"`
	Bytes int    `json:"bytes"`
}

// removed is what was taken away, for programs.
type removed struct {
	Removed string `json:"removed"`
}

func (a *app) printJSON(v any) error {
	if a.only != "" {
		return a.printField(v)
	}
	encoder := json.NewEncoder(a.out)
	encoder.SetIndent("", "  ")
	encoder.SetEscapeHTML(false)
	return encoder.Encode(v)
}

// asAnswered is a list as the service answers it: an object with the list under its name.
func asAnswered[T any](name string, all []T) map[string][]T {
	return map[string][]T{name: append([]T{}, all...)}
}

// printField prints the one field of a value that was asked for: text as it is, all else as JSON. Of a list it is
// that field of each, one a line.
func (a *app) printField(v any) error {
	text, err := json.Marshal(v)
	if err != nil {
		return err
	}
	var fields map[string]json.RawMessage
	var all []json.RawMessage
	if json.Unmarshal(text, &fields) != nil {
		if json.Unmarshal(text, &all) != nil {
			return usage("--only takes a field of an object or of each of a list, and this is neither; leave it out to see the whole with --json")
		}
	} else if _, is := fields[a.only]; !is && len(fields) == 1 {
		for _, only := range fields {
			_ = json.Unmarshal(only, &all)
		}
	}
	if all == nil {
		return a.printFieldOf(fields)
	}
	for _, one := range all {
		fields = nil
		if json.Unmarshal(one, &fields) != nil {
			return usage("--only takes a field of an object, and this list has none; leave it out to see the whole with --json")
		}
		if err := a.printFieldOf(fields); err != nil {
			return err
		}
	}
	return nil
}

func (a *app) printFieldOf(fields map[string]json.RawMessage) error {
	field, is := fields[a.only]
	if !is {
		names := slices.Sorted(maps.Keys(fields))
		return usage("there is no field %q%s", a.only, cmp.Or(table.DidYouMean(a.only, names), "; there is "+strings.Join(names, ", ")))
	}
	var words string
	if json.Unmarshal(field, &words) != nil {
		words = string(field)
	}
	escaped := false // as JSON would be
	_, err := fmt.Fprintln(plain{a.out, &escaped}, words)
	return err
}

// exitError is an error with its exit code.
type exitError struct {
	code int
	err  error
}

func (e *exitError) Error() string { return e.err.Error() }
func (e *exitError) Unwrap() error { return e.err }

func usage(format string, args ...any) error {
	return &exitError{exitUsage, fmt.Errorf(format, args...)}
}

func refused(format string, args ...any) error {
	return &exitError{exitRefused, fmt.Errorf(format, args...)}
}

// exit prints an error and finds its code.
func (a *app) exit(err error) int {
	if err == nil || errors.Is(err, context.Canceled) {
		return exitDone
	}
	code := exitFailed
	var coded *exitError
	var problem *client.Problem
	var unreachable *url.Error
	switch {
	case errors.As(err, &coded):
		code = coded.code
	case errors.As(err, &problem):
		if problem.Status < 500 {
			code = exitRefused
		}
	case errors.As(err, &unreachable):
		code = exitUnreachable
		err = a.unreachable(unreachable)
	case strings.Contains(err.Error(), "arg(s)"), strings.HasPrefix(err.Error(), "required flag"):
		code = exitUsage
	}
	if a.json && a.only == "" {
		a.printFailure(err, code)
	} else {
		fmt.Fprintln(a.err, "damselfly:", err)
	}
	return code
}

// unreachable says why no service answers.
func (a *app) unreachable(cause *url.Error) error {
	var certificate *tls.CertificateVerificationError
	switch {
	case strings.Contains(cause.Error(), "server gave HTTP response to HTTPS client"):
		return fmt.Errorf("what answers at %s speaks http and not https; try --server %s", a.server, strings.Replace(a.server, "https:", "http:", 1))
	case errors.As(cause, &certificate):
		return fmt.Errorf("the certificate of %s is not trusted by this machine, so nothing was sent: %w", a.server, certificate.Err)
	}
	return fmt.Errorf("no service answers at %s; start one with \"damselfly serve\", or give another address with --server (%w)", a.server, cause.Err)
}

// failure is an error for programs: a problem as a service answers it, and the exit code. What no service was asked about
// has the status 0.
type failure struct {
	client.Problem
	Exit int `json:"exit"`
}

// failures are the codes and titles of what went wrong here, by their exit codes.
var failures = map[int]client.Problem{
	exitFailed:      {Code: "failed", Title: "Failed"},
	exitUsage:       {Code: "wrong-command-line", Title: "The command line is wrong"},
	exitRefused:     {Code: "refused", Title: "Not done"},
	exitUnreachable: {Code: "no-service", Title: "No service answers"},
}

func (a *app) printFailure(err error, code int) {
	told := failure{Problem: failures[code], Exit: code}
	var problem *client.Problem
	if errors.As(err, &problem) {
		told.Problem = *problem
	} else {
		told.Type, told.Detail = "about:blank", err.Error()
	}
	text, err := json.Marshal(told)
	if err == nil {
		fmt.Fprintln(a.err, string(text))
	}
}

// Commands are all commands, for who describes them.
func Commands() *cobra.Command { return (&app{out: io.Discard, err: io.Discard}).root() }
