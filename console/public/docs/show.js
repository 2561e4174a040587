SwaggerUIBundle({ url: "/api/openapi.json", dom_id: "#description", deepLinking: true, validatorUrl: null });
