"""Files that people keep with a customer, a deal, a quote, one of its lines, an order: drawings, photos, the buyer's own papers."""
