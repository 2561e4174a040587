package service

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestGarbageGathersToABound(t *testing.T) {
	assert.Equal(t, 1600, percentFor(0), "a service that has just begun")
	assert.Equal(t, 1600, percentFor(20<<20))
	assert.Equal(t, 384, percentFor(100<<20), "384 MiB beside 100")
	assert.Equal(t, 200, percentFor(1<<30), "where much is in use, twice as much at least")
}
