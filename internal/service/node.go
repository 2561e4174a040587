package service

import (
	"context"
	"fmt"
	"net/http"
	"time"

	"damselfly.example/damselfly/internal/service/api"
)

// nodePatience is how long this service's own address may take to answer.
const nodePatience = 3 * time.Second

// reachesItself finds out whether other services reach this one at the address that they are given.
func reachesItself(ctx context.Context, address, service string) error {
	ctx, cancel := context.WithTimeout(ctx, nodePatience)
	defer cancel()
	request, err := http.NewRequestWithContext(ctx, http.MethodGet, address+"/healthz", nil)
	if err != nil {
		return err
	}
	answer, err := http.DefaultClient.Do(request)
	if err != nil {
		return fmt.Errorf("nobody answers at the address %s, which --node-address gives to other services (%w); give the address at which they reach this one", address, err)
	}
	defer answer.Body.Close()
	if answer.Header.Get(api.NodeHeader) != api.NodeMark(service) {
		return fmt.Errorf("another service answers at the address %s, which --node-address gives to other services; give the address at which they reach this one", address)
	}
	return nil
}
