package practise_test

import (
	"context"
	"encoding/json"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/practise"
)

// table answers looks with a view, and notes the actions that are asked for.
func table(t *testing.T, view string, answer func(do string) (int, string)) (*client.Seat, func() []string) {
	var mutex sync.Mutex
	var done []string
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == http.MethodGet {
			_, _ = w.Write([]byte(`{"told":1,"here":[],"watching":0,"view":` + view + `}`))
			return
		}
		var asked struct {
			Action struct {
				Do string `json:"do"`
			} `json:"action"`
		}
		assert.NoError(t, json.NewDecoder(r.Body).Decode(&asked))
		mutex.Lock()
		done = append(done, asked.Action.Do)
		mutex.Unlock()
		status, text := answer(asked.Action.Do)
		w.WriteHeader(status)
		_, _ = w.Write([]byte(text))
	}))
	t.Cleanup(server.Close)
	seat := client.New(server.URL, "").At(client.Joined{Room: "r", Seat: 1, Key: "k"})
	return seat, func() []string {
		mutex.Lock()
		defer mutex.Unlock()
		return append([]string{}, done...)
	}
}

func play(t *testing.T, seat *client.Seat, acts int) error {
	ctx, cancel := context.WithTimeout(t.Context(), 20*time.Second)
	defer cancel()
	p := practise.Player{Seat: seat, Chance: rand.New(rand.NewPCG(1, 2)), Pace: time.Millisecond, Acts: acts}
	return p.Play(ctx)
}

const view = `{"you":1,"settings":{},"seats":[{"number":1,"name":"Sedge"},{"number":2,"name":"Bo"}],"faces":{},"marker":{"seat":1},"asks":[ASKS],
	"pieces":[{"id":"wind","kind":"die"}],
	"places":[{"id":"weather","kind":"pile","sight":"none","count":9},{"id":"sky","kind":"row","sight":"open","count":1,"cards":[{"handle":"a","face":"f","side":"front"}]},
		{"id":"hand/1","kind":"hand","sight":"owner","owner":1,"count":2,"cards":[{"handle":"b","face":"f","side":"front"},{"handle":"c","face":"f","side":"front"}]},
		{"id":"hand/2","kind":"hand","sight":"owner","owner":2,"count":3}]}`

func TestAPracticePlayerPlaysPlausibly(t *testing.T) {
	seat, done := table(t, strings.Replace(view, "ASKS", "", 1), func(string) (int, string) { return 200, `{"told":1,"done":"now","log":[]}` })
	require.NoError(t, play(t, seat, 60))
	counts := map[string]int{}
	for _, do := range done() {
		counts[do]++
	}
	for _, do := range []string{"draw", "move", "roll", "pass"} {
		assert.Positive(t, counts[do], "%s: %v", do, counts)
	}
	assert.Greater(t, counts["draw"]+counts["move"], counts["say"])
}

func TestAPracticePlayerAnswersAsksFirst(t *testing.T) {
	ask := `{"id":7,"from":2,"to":1,"count":1}`
	seat, done := table(t, strings.Replace(view, "ASKS", ask, 1), func(string) (int, string) { return 200, `{"told":1,"done":"now","log":[]}` })
	require.NoError(t, play(t, seat, 5))
	for _, do := range done() {
		assert.Contains(t, []string{"agree", "decline"}, do)
	}
}

// What is refused is tried otherwise; the end of the game, and of its seat, end it.
func TestAPracticePlayerGoesWhenItIsOver(t *testing.T) {
	n := 0
	seat, _ := table(t, strings.Replace(view, "ASKS", "", 1), func(string) (int, string) {
		if n++; n < 5 {
			return 409, `{"status":409,"code":"too-few-cards","title":"x","detail":"x"}`
		}
		return 409, `{"status":409,"code":"game-ended","title":"x","detail":"x"}`
	})
	require.NoError(t, play(t, seat, 0))
	assert.Equal(t, 5, n)
	seat, _ = table(t, strings.Replace(view, "ASKS", "", 1), func(string) (int, string) {
		return 401, `{"status":401,"code":"seat-left","title":"x","detail":"x"}`
	})
	require.ErrorContains(t, play(t, seat, 0), "x")
}

// Where no game was set up, nobody has the turn; they choose who begins, so that it is passed from then on.
func TestWhereNobodyHasTheTurnOneIsChosen(t *testing.T) {
	seat, done := table(t, strings.NewReplacer("ASKS", "", `"marker":{"seat":1}`, `"marker":{}`).Replace(view), func(string) (int, string) { return 200, `{"told":2,"done":"now"}` })
	require.NoError(t, play(t, seat, 60))
	assert.Contains(t, done(), "first")
}
