import { cardUpdateReasons } from "./card-update/reasons";
import { cleanedStockReasons } from "./cleaned-stock/reasons";
import { commonReasons } from "./common/reasons";
import { downloadModeReasons } from "./download-mode/reasons";
import { genericImageReasons } from "./generic-image/reasons";
import { loaderBoardReasons } from "./loader-board/reasons";
import { lockingReasons } from "./locking/reasons";
import { makerScriptReasons } from "./maker-script/reasons";
import { officialUpdateReasons } from "./official-update/reasons";
import { portReasons } from "./port/reasons";
import { recoveryPackagesReasons } from "./recovery-packages/reasons";
import { stockPackageReasons } from "./stock-package/reasons";
import { unlockingReasons } from "./unlocking/reasons";

/** The rule behind each code, in words: what must hold. Each way brings its own; a page shows them all. */
export const REASON_RULES = {
  ...commonReasons,
  ...officialUpdateReasons,
  ...unlockingReasons,
  ...stockPackageReasons,
  ...recoveryPackagesReasons,
  ...genericImageReasons,
  ...downloadModeReasons,
  ...loaderBoardReasons,
  ...makerScriptReasons,
  ...cardUpdateReasons,
  ...portReasons,
  ...lockingReasons,
  ...cleanedStockReasons,
} as const;

/** Stable codes of the reasons a way or an image is stopped. Other software may rely on them: add, never rename. */
export type ReasonCode = keyof typeof REASON_RULES;
