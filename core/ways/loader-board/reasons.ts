export const loaderBoardReasons = {
  "loader.not-recorded": "Nothing is planned for a loader board before its record says chip, button and partition list",
  "loader.other-chip":
    "A package for a loader goes only on the chip and revision it is made for, whatever the box is called",
  "loader.no-row": "Every file of the package must have a row in the board's partition list",
  "loader.not-dumped": "A board is given back only what was dumped of itself while it worked",
} as const;
