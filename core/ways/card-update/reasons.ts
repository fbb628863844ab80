export const cardUpdateReasons = {
  "card.not-taken": "A card update goes only on a model that takes one from its card slot",
} as const;
