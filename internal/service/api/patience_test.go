package api

import (
	"damselfly.example/damselfly/internal/service/web"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Where something fails half way through a file, whoever takes it sees that it is not whole.
func TestHalfAFileIsNotTakenForAWholeOne(t *testing.T) {
	a := &API{Options: Options{Log: slog.New(slog.DiscardHandler)}}
	server := httptest.NewServer(a.rescue(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		_, _ = w.Write(make([]byte, 1<<16))
		panic(http.ErrAbortHandler)
	})))
	defer server.Close()
	response, err := http.Get(server.URL)
	require.NoError(t, err)
	defer response.Body.Close()
	_, err = io.ReadAll(response.Body)
	assert.ErrorIs(t, err, io.ErrUnexpectedEOF)
}

// Each file that is taken away slowly holds memory, so few are at once.
func TestFewFilesAreTakenAwayAtOnce(t *testing.T) {
	a := &API{Options: Options{Log: slog.New(slog.DiscardHandler)}, given: &web.Shares{Most: 1}}
	begun, goOn := make(chan bool), make(chan bool)
	handler := a.patience(http.HandlerFunc(func(http.ResponseWriter, *http.Request) {
		begun <- true
		<-goOn
	}))
	take := func() int {
		w := httptest.NewRecorder()
		handler.ServeHTTP(w, httptest.NewRequest("GET", "/api/kits/abc/zip", nil))
		return w.Code
	}
	first := make(chan int)
	go func() { first <- take() }()
	<-begun
	assert.Equal(t, http.StatusServiceUnavailable, take())
	goOn <- true
	assert.Equal(t, http.StatusOK, <-first)
	go func() { <-begun; goOn <- true }()
	assert.Equal(t, http.StatusOK, take(), "the place is free again")
}
