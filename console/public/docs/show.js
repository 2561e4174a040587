SwaggerUIBundle({ url: "openapi.json", dom_id: "#description", deepLinking: true, validatorUrl: null });
