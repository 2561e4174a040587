package chance

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"
)

// level is the chance that a fair shuffle is called unfair. The streams are
// seeded, so a verdict is the same on every run.
const level = 1e-4

// naive is the shuffle that exchanges every card with any card. It looks fair
// and is not: n^n equally likely runs do not divide evenly over n! orders.
func naive(s *Stream, n int) []uint32 {
	order := make([]uint32, n)
	for i := range order {
		order[i] = uint32(i)
	}
	for i := range order {
		j := s.Below(uint64(n))
		order[i], order[j] = order[j], order[i]
	}
	return order
}

// fair reports whether counts fit equal expectations at the level above.
func fair(counts []float64, runs int) bool {
	expected := make([]float64, len(counts))
	for i := range expected {
		expected[i] = float64(runs) / float64(len(counts))
	}
	chi := stat.ChiSquare(counts, expected)
	return distuv.ChiSquared{K: float64(len(counts) - 1)}.Survival(chi) > level
}

// everyOrder counts how often each order of n things comes up.
func everyOrder(shuffle func(*Stream, int) []uint32, n, runs int) []float64 {
	orders := 1
	for i := 2; i <= n; i++ {
		orders *= i
	}
	index := map[string]int{}
	counts := make([]float64, orders)
	for run := range runs {
		key := fmt.Sprint(shuffle(Derive(Seed{1}, uint64(run), ""), n))
		if _, known := index[key]; !known {
			index[key] = len(index)
		}
		counts[index[key]]++
	}
	return counts
}

// positions counts where the first thing of n lands, neighbours how far behind
// it its old neighbour lands; both are uniform under a fair shuffle.
func positions(shuffle func(*Stream, int) []uint32, n, runs int) (places, neighbours []float64) {
	places, neighbours = make([]float64, n), make([]float64, n-1)
	at := make([]int, n)
	for run := range runs {
		for i, former := range shuffle(Derive(Seed{2}, uint64(run), ""), n) {
			at[former] = i
		}
		places[at[0]]++
		neighbours[(at[1]-at[0]+n)%n-1]++
	}
	return places, neighbours
}

func TestShuffleGivesEveryOrderOfASmallPileAlike(t *testing.T) {
	for n := 2; n <= 6; n++ {
		counts := everyOrder((*Stream).Shuffle, n, 60_000)
		assert.True(t, fair(counts, 60_000), "orders of %d cards are not uniform: %v", n, counts)
	}
}

func TestShuffleHasNoFavouritePlaceInALargePile(t *testing.T) {
	const n, runs = 60, 60_000
	places, neighbours := positions((*Stream).Shuffle, n, runs)
	assert.True(t, fair(places, runs), "where the first card lands is not uniform: %v", places)
	assert.True(t, fair(neighbours, runs), "where its neighbour lands is not uniform: %v", neighbours)
}

func TestTheUniformityTestFailsANaiveShuffle(t *testing.T) {
	assert.False(t, fair(everyOrder(naive, 4, 60_000), 60_000))
}

func TestBelowIsUniformWhereModuloWouldNotBe(t *testing.T) {
	s, counts := Derive(Seed{3}, 1, ""), make([]float64, 7)
	for range 70_000 {
		counts[s.Below(7)]++
	}
	assert.True(t, fair(counts, 70_000), "%v", counts)
	assert.Panics(t, func() { s.Below(0) })
}

func TestTheSameSeedEntryAndSaltGiveTheSameChoices(t *testing.T) {
	seed := Seed{9}
	one := Derive(seed, 4, "salt").Shuffle(52)
	require.Equal(t, one, Derive(seed, 4, "salt").Shuffle(52))
	assert.NotEqual(t, one, Derive(seed, 5, "salt").Shuffle(52))
	assert.NotEqual(t, one, Derive(seed, 4, "other").Shuffle(52))
	assert.NotEqual(t, one, Derive(Seed{8}, 4, "salt").Shuffle(52))
}

func TestASeedIsCheckedAgainstItsCommitment(t *testing.T) {
	seed := Seed{1, 2, 3}
	assert.True(t, Check(seed, Commit(seed)))
	assert.False(t, Check(Seed{3, 2, 1}, Commit(seed)))
}

func ExampleDerive() {
	s := Derive(Seed{}, 1, "")
	fmt.Println(s.Shuffle(5), s.Below(6)+1)
	// Output: [3 0 2 4 1] 1
}
