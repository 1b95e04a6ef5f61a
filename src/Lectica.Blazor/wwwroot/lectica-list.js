// What must happen in the browser at once: capture, prevented defaults, one batch of samples a frame, and what moves in each. It knows nothing of lists.

const kinds = { pointerdown: 0, pointermove: 1, pointerup: 2, pointercancel: 3 };
const types = { mouse: 0, pen: 1, touch: 2 };
const modifiers = e => (e.ctrlKey ? 1 : 0) | (e.shiftKey ? 2 : 0) | (e.altKey ? 4 : 0) | (e.metaKey ? 8 : 0);
// Controls that an app's template puts into a row work by themselves.
const ownControls = 'a[href], button, input, select, textarea, [contenteditable], [data-lectica-own]';
// Of one sample: kind, pointer, type, x, y, time, button, buttons, modifiers, primary, pressure.
const fields = 11, mostSamples = 64;
// What a note tells.
const scrolled = 0, resized = 1, focused = 2;

/** For a page that runs the list itself: it answers at once, and samples go by memory that both have. */
export function attachHere(id, memory, samples, key, note, heights) {
    return attach(document.getElementById(id), {
        samples: batch => { memory.set(batch); return samples(batch.length); },
        key, note,
        heights: (keys, all) => { memory.set(Float64Array.from(all)); heights(keys.join('\0'), all.length); },
        end: () => memory.dispose(),
    }, true);
}

/** For a page whose list is elsewhere: its answers come later. */
export const attachRemote = (element, bridge) => attach(element, {
    samples: batch => bridge.invokeMethodAsync('TakeSamples', Array.from(batch)),
    key: (...args) => bridge.invokeMethodAsync('TakeKey', ...args),
    note: (...args) => bridge.invokeMethodAsync('TakeNote', ...args),
    heights: (...args) => bridge.invokeMethodAsync('TakeHeights', ...args),
    end: () => { },
}, false);

export const scrollTo = (view, top) => view.scrollTo(top);
export const carryTo = (view, top, gap) => view.carryTo(top, gap);
export const say = (view, text) => view.say(text);
export const detach = view => view.detach();

/**
 * @param {HTMLElement} element the one that has the keyboard, from whose edges places are counted
 * @param {object} list what the list is told
 * @param {boolean} answersAtOnce
 */
function attach(element, list, answersAtOnce) {
    const root = element.closest('.lectica'), viewport = root.querySelector('.lectica-viewport'), over = root.querySelector('.lectica-over'), said = root.querySelector('.lectica-said');
    const down = new Set(), samples = new Float64Array(fields * mostSamples);
    let count = 0, frame = 0, holds = false, scrollDue = false, ownTop = null, keys = new Set();
    const stop = new AbortController();
    const listen = (target, names, handler, options = {}) =>
        names.split(' ').forEach(name => target.addEventListener(name, handler, { signal: stop.signal, ...options }));

    function flush() {
        if (frame) cancelAnimationFrame(frame);
        frame = 0;
        if (count === 0) return;
        const answer = list.samples(samples.subarray(0, count));
        count = 0;
        if (answersAtOnce) holds = answer;
        else answer.then(a => holds = a);
    }

    function put(kind, e, x, y, button, buttons) {
        if (count === samples.length) flush();
        samples.set([kind, e.pointerId ?? 1, types[e.pointerType] ?? 0, x, y, e.timeStamp, button, buttons, modifiers(e), e.isPrimary === false ? 0 : 1, e.pressure ?? 0], count);
        count += fields;
    }

    function take(e) {
        const box = element.getBoundingClientRect();
        // A cancelled pointer has no place.
        const gone = e.type === 'pointercancel';
        put(kinds[e.type], e, gone ? 0 : e.clientX - box.left, gone ? 0 : e.clientY - box.top, e.button, e.buttons);
    }

    const isList = target => viewport.contains(target) || element.contains(target) ? !target.closest(ownControls) : !!target.closest?.('.lectica-menu');

    listen(root, 'pointerdown', e => {
        if (!isList(e.target)) return;
        down.add(e.pointerId);
        take(e);
        flush();
        // The pointer stays with the list wherever it goes; a finger's does by itself.
        if (e.pointerType !== 'touch') element.setPointerCapture(e.pointerId);
    });
    listen(root, 'pointermove', e => {
        // Over an open menu a mouse that is not down lights the entries.
        if (!down.has(e.pointerId) && !(e.pointerType === 'mouse' && e.target.closest?.('.lectica-menu'))) return;
        take(e);
        frame ||= requestAnimationFrame(flush);
    });
    listen(root, 'pointerup pointercancel', e => {
        if (!down.delete(e.pointerId)) return;
        take(e);
        flush();
    });
    listen(root, 'lostpointercapture', e => {
        if (!down.delete(e.pointerId)) return;
        put(kinds.pointercancel, e, 0, 0, -1, 0);
        flush();
    });
    // What the list holds the browser must not scroll; it asks while the finger moves.
    listen(viewport, 'touchmove', e => { if (holds && e.cancelable) e.preventDefault(); }, { passive: false });
    listen(root, 'contextmenu dragstart', e => { if (isList(e.target)) e.preventDefault(); });
    // A click without a pointer is assistive technology's: a tap there.
    listen(root, 'click', e => {
        if (e.detail !== 0 || !isList(e.target)) return;
        const box = element.getBoundingClientRect(), at = e.target.getBoundingClientRect();
        const x = at.left + at.width / 2 - box.left, y = at.top + at.height / 2 - box.top;
        const click = { timeStamp: e.timeStamp };
        put(kinds.pointerdown, click, x, y, 0, 1);
        put(kinds.pointerup, click, x, y, 0, 0);
        flush();
    });

    listen(root, 'keydown', e => {
        if (e.isComposing || (e.target !== element && !e.target.closest('.lectica-menu'))) return;
        const answer = list.key(e.key, modifiers(e) | (e.repeat ? 16 : 0), e.timeStamp);
        if (answersAtOnce ? answer : wouldTake(e)) {
            e.preventDefault();
            e.stopPropagation();
        }
    });
    // Where the answer comes too late, the list has said beforehand which keys it may take; Escape means nothing to a page, and Tab leaves.
    const wouldTake = e => {
        if (e.target !== element) return e.key !== 'Tab';
        const key = e.key === ' ' ? 'Space' : e.key.length === 1 ? e.key.toUpperCase() : e.key;
        return keys.has(`${modifiers(e)}:${key}`) || (keys.has('typing') && e.key.length === 1 && !(modifiers(e) & ~2));
    };

    listen(root, 'focusin', e => { if (!root.contains(e.relatedTarget) && isList(e.target)) list.note(focused, 1, 0); });
    listen(root, 'focusout', e => { if (!root.contains(e.relatedTarget)) list.note(focused, 0, 0); });

    listen(viewport, 'scroll', () => {
        if (scrollDue) return;
        scrollDue = true;
        requestAnimationFrame(() => {
            scrollDue = false;
            const own = viewport.scrollTop === ownTop;
            ownTop = null;
            if (!own) list.note(scrolled, viewport.scrollTop, 0);
        });
    });
    const sizes = new ResizeObserver(() => list.note(resized, element.clientWidth, viewport.clientHeight || element.clientHeight));
    sizes.observe(element);
    const measures = root.classList.contains('is-measured') ? measureRows(root, list) : null;

    return {
        // What the list scrolls itself is not told back to it: it might be elsewhere by then.
        scrollTo: top => {
            const before = viewport.scrollTop;
            viewport.scrollTop = top;
            if (viewport.scrollTop !== before) ownTop = viewport.scrollTop;
        },
        carryTo: (top, gap) => {
            over.style.setProperty('--lectica-card-top', `${top}px`);
            over.style.setProperty('--lectica-gap-top', `${gap}px`);
        },
        // The same words twice are said twice: a live region speaks where its text changes.
        say: text => { said.textContent = said.textContent === text ? text + '\u200b' : text; },
        expectKeys: chords => { keys = new Set(chords); },
        detach: () => {
            stop.abort();
            sizes.disconnect();
            measures?.disconnect();
            list.end();
        },
    };
}

/** Tells how high the rows are drawn, as each comes and whenever that changes. */
function measureRows(root, list) {
    const sizes = new ResizeObserver(entries => {
        const all = entries.filter(e => e.target.isConnected).slice(0, 500);
        list.heights(all.map(e => e.target.dataset.key), all.map(e => Math.round(e.borderBoxSize[0].blockSize * 100) / 100));
    });
    const content = root.querySelector('.lectica-content');
    const watch = nodes => nodes.forEach(row => row.dataset?.key === undefined || sizes.observe(row));
    const rows = new MutationObserver(changes => changes.forEach(change => {
        watch(change.addedNodes);
        change.removedNodes.forEach(row => row.dataset?.key === undefined || sizes.unobserve(row));
    }));
    watch(content.childNodes);
    rows.observe(content, { childList: true });
    return { disconnect: () => { sizes.disconnect(); rows.disconnect(); } };
}

/** A toolbar: tells how wide it is, and keeps its keys from scrolling the page. */
export function attachToolbar(element, bridge) {
    const stop = new AbortController();
    element.addEventListener('keydown', e => {
        const menu = element.querySelector('[role=menu]');
        if (menu ? e.key !== 'Tab' : /^(Arrow(Left|Right)|Home|End)$/.test(e.key) || (e.key === 'ArrowDown' && e.target.ariaHasPopup)) e.preventDefault();
    }, { signal: stop.signal });
    const widths = new ResizeObserver(() => bridge.invokeMethodAsync('TakeWidth', element.clientWidth));
    widths.observe(element);
    // How wide labels are in the toolbar's font, px.
    function measure(labels) {
        const drawing = document.createElement('canvas').getContext('2d');
        const style = getComputedStyle(element);
        drawing.font = `${style.fontStyle} ${style.fontWeight} ${style.fontSize} ${style.fontFamily}`;
        return labels.map(label => Math.ceil(drawing.measureText(label).width));
    }
    return { measure, detach: () => { stop.abort(); widths.disconnect(); } };
}
