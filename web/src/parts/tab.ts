// tab is how one of several parts of a room is chosen, but for its height.
export const tab = "-mb-px border-b-2 border-transparent px-1 text-quiet hover:text-ink data-[state=active]:border-ochre data-[state=active]:text-ink"
