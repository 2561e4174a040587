package cli

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"strings"
	"sync"
	"time"

	"github.com/spf13/cobra"
	"golang.org/x/sync/errgroup"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/practise"
)

func (a *app) practise() *cobra.Command {
	var seats, acts int
	var pace time.Duration
	var passcode string
	cmd := &cobra.Command{
		Use: "practise ROOM", Aliases: []string{"practice"}, Short: "Sit practice players down at a room, who play along",
		Long: "Sit practice players down at free seats of a room: they draw, play cards, roll dice and pass the turn, without knowing any\n" +
			"rules, so that one person alone sees a table in use. They use the public API like everybody. Ctrl-C, and their seats are free again.",
		Example: "  damselfly practise ROOM --seats 2\n  damselfly practise ROOM --seats 3 --pace 500ms", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if seats < 1 || seats > len(practise.Names) {
				return usage("--seats takes 1 to %d, not %d", len(practise.Names), seats)
			}
			if pace < 50*time.Millisecond {
				return usage("--pace is 50ms at least, so that people can follow")
			}
			ctx := cmd.Context()
			door, room := client.New(a.server, ""), roomID(args[0])
			var players []*practise.Player
			var mutex sync.Mutex // of what is printed
			leave := func() {
				for _, p := range players {
					// The context has ended, and the seats are to be free all the same.
					_, _ = p.Seat.Free(context.WithoutCancel(ctx), p.Seat.Joined.Seat)
				}
			}
			defer leave()
			for i := range seats {
				joined, err := door.Join(ctx, room, client.Join{Name: practise.Names[i], Passcode: passcode})
				if err != nil {
					return err
				}
				name := practise.Names[i]
				players = append(players, &practise.Player{
					Seat: door.At(joined), Chance: rand.New(rand.NewPCG(rand.Uint64(), rand.Uint64())), Pace: pace, Acts: acts,
					Told: func(text string) {
						mutex.Lock()
						defer mutex.Unlock()
						a.line(map[string]string{"who": name, "did": text}, "%s  %s", name, text)
					},
				})
			}
			sat := practise.Names[:seats]
			fmt.Fprintf(a.err, "%s sit at the table (Ctrl-C lets them go).\n", strings.Join(sat, ", "))
			var all errgroup.Group
			for _, p := range players {
				all.Go(func() error { return p.Play(ctx) })
			}
			err := all.Wait()
			var problem *client.Problem
			if errors.As(err, &problem) && problem.Status == 401 {
				return refused("a practice player's seat was taken: %w", err)
			}
			return err
		},
	}
	cmd.Flags().IntVar(&seats, "seats", 2, "how many of them")
	cmd.Flags().IntVar(&acts, "acts", 0, "after how many acts each of them goes (default: they stay)")
	cmd.Flags().DurationVar(&pace, "pace", 2*time.Second, "about how long they think")
	cmd.Flags().StringVar(&passcode, "passcode", "", "the room's passcode, if it has one")
	return cmd
}
