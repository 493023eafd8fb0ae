import { elementScroll, observeElementOffset, observeElementRect, Virtualizer, type VirtualItem } from '@tanstack/virtual-core';

/** How a long list is laid out. */
export interface ListShape {
	count: number;
	/** Height of a row, in pixels. */
	size: number;
	/** Things side by side in a row. */
	lanes?: number;
}

/** The part of a long list that is in sight: only that is in the document. */
export class VirtualList {
	/** What is in sight, and a little more. */
	items = $state.raw<VirtualItem[]>([]);
	/** Height of the whole list, in pixels. */
	total = $state(0);
	private shape: ListShape = { count: 0, size: 26 };
	private virtualizer: Virtualizer<HTMLElement, HTMLElement> | undefined;
	private margin = 0;
	private scroller: HTMLElement | null = null;

	/** Follows the element in which the list scrolls; returns what ends that. */
	attach(list: HTMLElement, scroller: HTMLElement): () => void {
		this.scroller = scroller;
		this.margin = list.getBoundingClientRect().top - scroller.getBoundingClientRect().top + scroller.scrollTop;
		this.virtualizer = new Virtualizer(this.options());
		const end = this.virtualizer._didMount();
		this.virtualizer._willUpdate();
		this.take();
		return () => {
			end();
			this.virtualizer = undefined;
		};
	}

	/** Takes another shape of the list. */
	update(shape: ListShape): void {
		this.shape = shape;
		if (!this.virtualizer) return;
		this.virtualizer.setOptions(this.options());
		this.virtualizer.measure();
		this.virtualizer._willUpdate();
		this.take();
	}

	/** Brings a thing into sight. */
	show(index: number): void {
		this.virtualizer?.scrollToIndex(index, { align: 'auto' });
	}

	private take(): void {
		this.items = this.virtualizer!.getVirtualItems();
		this.total = this.virtualizer!.getTotalSize();
	}

	private options() {
		const { count, size, lanes = 1 } = this.shape;
		return {
			count,
			lanes,
			estimateSize: () => size,
			scrollMargin: this.margin,
			overscan: 10,
			getScrollElement: () => this.scroller,
			observeElementRect,
			observeElementOffset,
			scrollToFn: elementScroll,
			onChange: () => this.virtualizer && this.take()
		};
	}

	/** Height of what stands above the first thing in sight. */
	get before(): number {
		return (this.items[0]?.start ?? this.margin) - this.margin;
	}

	/** Height of what stands below the last one. */
	get after(): number {
		const last = this.items.at(-1);
		return last ? this.total - (last.end - this.margin) : 0;
	}
}
