import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";

const KEYS = [
  ["1 … 6", "the stations of the lane"],
  ["/", "search"],
  ["?", "this list"],
  ["space", "at the bench: step is done"],
  ["c", "at the bench: copy the command"],
  ["t", "at the bench: start the clock"],
  ["!", "at the bench: something is wrong"],
] as const;

export function KeyHelp({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 bg-ink/40" aria-hidden="true" />
      <div className="fixed inset-0 flex items-center justify-center p-4">
        <DialogPanel className="sheet max-w-md">
          <DialogTitle className="text-lg font-bold">Keys</DialogTitle>
          <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
            {KEYS.map(([key, says]) => (
              <div key={key} className="contents">
                <dt>
                  <kbd className="rounded border border-rule bg-paper px-1.5">{key}</kbd>
                </dt>
                <dd>{says}</dd>
              </div>
            ))}
          </dl>
          <button type="button" className="btn mt-4" onClick={onClose}>
            Close
          </button>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
