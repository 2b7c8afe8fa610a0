<script setup lang="ts">
/** What explains a thing on hover explains it to the keyboard and the finger, too: on focus that came by key, and on touch. */
import { useEventListener } from "@vueuse/core";
import { ref, shallowRef } from "vue";

const about = shallowRef<HTMLElement | null>(null);
const words = ref("");
const shown = ref(false);

function explain(target: EventTarget | null, isTouch: boolean): void {
  const found = (target as HTMLElement | null)?.closest?.<HTMLElement>("[title]") ?? null;
  // Figures say theirs in the strip below the table; a button that is touched does what it does.
  const fits = found && !found.matches("[role=gridcell]") && !(isTouch && found.matches("button, a"));
  shown.value = !!fits;
  if (!fits) return;
  about.value = found;
  words.value = found.title;
}

useEventListener("focusin", (event: FocusEvent) => {
  const target = event.target as HTMLElement;
  if (target.matches(":focus-visible") && target.title) explain(target, false);
  else shown.value = false;
});
useEventListener("pointerdown", (event: PointerEvent) => {
  if (event.pointerType === "touch") explain(event.target, true);
  else shown.value = false;
});
useEventListener("keydown", (event: KeyboardEvent) => event.key === "Escape" && (shown.value = false));
</script>

<template>
  <ElTooltip
    v-if="about"
    :visible="shown"
    :content="words"
    :virtual-ref="about"
    virtual-triggering
    placement="bottom-start"
    :show-after="0"
    popper-class="explained"
  />
</template>

<style>
.explained {
  max-width: 340px;
  pointer-events: none;
}
</style>
