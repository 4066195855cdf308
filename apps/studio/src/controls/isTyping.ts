/** Whether a key that was pressed belongs to a field or a dialog. */
export const isTyping = (event: KeyboardEvent): boolean =>
  event.target instanceof HTMLElement &&
  event.target.closest('input, textarea, select, [contenteditable], [role="dialog"]') !== null;
