import { X } from "lucide-react";
import { useEffect, useRef, type ReactNode } from "react";

/** A modal dialog on the browser's own element: focus stays inside, Escape closes. */
export function Dialog({
  title,
  onClose,
  children,
  wide,
  huge,
}: {
  title: string;
  onClose: () => void;
  children: ReactNode;
  wide?: boolean;
  huge?: boolean;
}) {
  const ref = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    const dialog = ref.current;
    dialog?.showModal();
    // what is meant to be used first has the focus, not the cross in the corner
    dialog?.querySelector<HTMLElement>("[data-first]")?.focus();
    return () => dialog?.close();
  }, []);
  return (
    <dialog
      ref={ref}
      className={`m-auto w-[calc(100%-2rem)] rounded-(--radius-box) border border-base-300 bg-base-100 p-0 text-base-content backdrop:bg-black/50 ${
        huge ? "max-w-6xl" : wide ? "max-w-3xl" : "max-w-lg"
      }`}
      aria-label={title}
      onCancel={(event) => {
        // a dialog opened from within this one is cancelled alone
        if (event.target !== ref.current) return;
        event.preventDefault();
        onClose();
      }}
      onClick={(event) => {
        if (event.target === ref.current) onClose();
      }}
    >
      <div className="p-5">
        <div className="mb-3 flex items-start gap-4">
          <h2 className="text-lg font-semibold">{title}</h2>
          <button
            type="button"
            className="btn btn-ghost btn-sm btn-square ml-auto"
            aria-label="Close"
            onClick={onClose}
          >
            <X size={18} aria-hidden />
          </button>
        </div>
        {children}
      </div>
    </dialog>
  );
}
