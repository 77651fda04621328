'use client';
import { FILTERS, SORTS, type ShelfView } from './shelf-view';

const SELECT = 'h-6 min-w-0 grow rounded border border-rule bg-sheet px-1 text-[11.5px]';

/** What is looked for on the shelf, and in which order it stands. */
export function ShelfSearch({ view, onView }: { readonly view: ShelfView; readonly onView: (part: Partial<ShelfView>) => void }) {
  return (
    <div className="flex flex-col gap-1 px-3.5 pb-2">
      <input
        type="search"
        aria-label="Search the shelf"
        placeholder="Search the shelf"
        value={view.sought}
        onChange={(e) => onView({ sought: e.target.value })}
        className="h-6 rounded border border-rule bg-sheet px-2"
      />
      <span className="flex gap-1">
        <select
          aria-label="Show on the shelf"
          value={view.filter}
          onChange={(e) => onView({ filter: e.target.value as ShelfView['filter'] })}
          className={SELECT}
        >
          {FILTERS.map((f) => (
            <option key={f}>{f}</option>
          ))}
        </select>
        <select
          aria-label="Order of the shelf"
          value={view.sort}
          onChange={(e) => onView({ sort: e.target.value as ShelfView['sort'] })}
          className={SELECT}
        >
          {SORTS.map((s) => (
            <option key={s}>{s}</option>
          ))}
        </select>
      </span>
    </div>
  );
}
