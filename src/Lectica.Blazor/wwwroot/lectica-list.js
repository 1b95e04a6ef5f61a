// What must happen in the browser at once: capture, prevented defaults, one batch of samples a frame. It knows nothing of lists.

const kinds = { pointerdown: 0, pointermove: 1, pointerup: 2, pointercancel: 3 };
const types = { mouse: 0, pen: 1, touch: 2 };
const modifiers = e => (e.ctrlKey ? 1 : 0) | (e.shiftKey ? 2 : 0) | (e.altKey ? 4 : 0) | (e.metaKey ? 8 : 0);
// Controls that an app's template puts into a row work by themselves.
const ownControls = 'a[href], button, input, select, textarea, [contenteditable], [data-lectica-own]';

/**
 * @param {HTMLElement} root the component's outermost element
 * @param {HTMLElement} viewport the element that scrolls
 * @param {object} bridge the component; inProcess tells whether it answers at once
 */
export function attach(root, viewport, bridge, inProcess) {
    const down = new Set();
    let samples = [], frame = 0, holds = false, scrollDue = false;
    const stop = new AbortController();
    const listen = (target, names, handler, options = {}) =>
        names.split(' ').forEach(name => target.addEventListener(name, handler, { signal: stop.signal, ...options }));
    const call = (name, ...args) => inProcess ? bridge.invokeMethod(name, ...args) : bridge.invokeMethodAsync(name, ...args);

    function flush() {
        if (frame) cancelAnimationFrame(frame);
        frame = 0;
        if (samples.length === 0) return 0;
        const batch = samples;
        samples = [];
        const answer = call('TakeSamples', batch);
        if (inProcess) return (holds = (answer & 2) !== 0), answer;
        answer.then(a => holds = (a & 2) !== 0);
        return 1;
    }

    function take(e) {
        const box = viewport.getBoundingClientRect();
        // A cancelled pointer has no place.
        const cancelled = e.type === 'pointercancel';
        samples.push(kinds[e.type], e.pointerId, types[e.pointerType] ?? 0, cancelled ? 0 : e.clientX - box.left, cancelled ? 0 : e.clientY - box.top,
            e.timeStamp, e.button, e.buttons, modifiers(e), e.isPrimary ? 1 : 0, e.pressure);
    }

    const isList = target => viewport.contains(target) ? !target.closest(ownControls) : !!target.closest?.('.lectica-menu');

    listen(root, 'pointerdown', e => {
        if (!isList(e.target)) return;
        down.add(e.pointerId);
        take(e);
        flush();
        // The pointer stays with the list wherever it goes; a finger's does by itself.
        if (e.pointerType !== 'touch') viewport.setPointerCapture(e.pointerId);
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
        samples.push(kinds.pointercancel, e.pointerId, types[e.pointerType] ?? 0, 0, 0, e.timeStamp, -1, 0, 0, 1, 0);
        flush();
    });
    // What the list holds the browser must not scroll; it asks while the finger moves.
    listen(viewport, 'touchmove', e => { if (holds && e.cancelable) e.preventDefault(); }, { passive: false });
    listen(root, 'contextmenu dragstart', e => { if (isList(e.target)) e.preventDefault(); });
    // A click without a pointer is assistive technology's.
    listen(root, 'click', e => {
        if (e.detail !== 0 || !isList(e.target)) return;
        const box = viewport.getBoundingClientRect(), at = e.target.getBoundingClientRect();
        call('TakeClick', at.left + at.width / 2 - box.left, at.top + at.height / 2 - box.top, e.timeStamp);
    });

    listen(root, 'keydown', e => {
        if (e.isComposing || (e.target !== viewport && !e.target.closest('.lectica-menu'))) return;
        if (inProcess ? call('TakeKey', e.key, modifiers(e), e.timeStamp, e.repeat) : wouldTake(e)) {
            e.preventDefault();
            e.stopPropagation();
        }
        if (!inProcess) call('TakeKey', e.key, modifiers(e), e.timeStamp, e.repeat);
    });
    // Where the answer comes too late, what scrolls or types is prevented, and what leaves the list is not.
    const wouldTake = e => e.key !== 'Tab' && e.key !== 'Escape' && !/^F\d+$/.test(e.key) && !(e.ctrlKey && !/^[azy ]$/i.test(e.key));

    listen(root, 'focusin', e => { if (!root.contains(e.relatedTarget) && isList(e.target)) call('Focused', true); });
    listen(root, 'focusout', e => { if (!root.contains(e.relatedTarget)) call('Focused', false); });

    listen(viewport, 'scroll', () => {
        if (scrollDue) return;
        scrollDue = true;
        requestAnimationFrame(() => {
            scrollDue = false;
            call('Scrolled', viewport.scrollTop);
        });
    });
    const sizes = new ResizeObserver(() => call('Resized', viewport.clientWidth, viewport.clientHeight));
    sizes.observe(viewport);

    return {
        scrollTo: top => { viewport.scrollTop = top; },
        detach: () => {
            stop.abort();
            sizes.disconnect();
        },
    };
}
