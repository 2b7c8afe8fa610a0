<script setup lang="ts">
/** What holds for the whole brief: name, title, lead, masthead with a logo, paper, as-of date, filters, copies per member. */
import { periodLevel } from "@/model/periodLevel";
import Option from "@/parts/Option.vue";
import { computed, ref } from "vue";
import type { Brief, LedgerDescription, Statement } from "@/contract";
import AsOfChoice from "@/panels/statement/AsOfChoice.vue";
import MemberPicker from "@/panels/statement/MemberPicker.vue";
import Field from "@/parts/Field.vue";
import { dimensionName } from "@/words/names";
import { PLACEHOLDERS } from "@/words/briefs";

const props = defineProps<{ brief: Brief; ledger: LedgerDescription; asOf: string | null }>();
const emit = defineEmits<{ change: [brief: Brief] }>();
const refused = ref("");
const MOST_LOGO = 300_000;

function set(values: Partial<Brief>): void {
  emit("change", { ...props.brief, ...values });
}

async function takeLogo(file: File): Promise<false> {
  refused.value = "";
  if (!/^image\/(png|jpeg)$/.test(file.type) || file.size > MOST_LOGO)
    refused.value = `A logo is a PNG or a JPEG of at most ${MOST_LOGO / 1000} kB.`;
  else {
    const reader = new FileReader();
    await new Promise((done) => {
      reader.onload = done;
      reader.readAsDataURL(file);
    });
    set({ logo: String(reader.result) });
  }
  return false;
}

const dimensions = computed(() =>
  props.ledger.dimensions.filter((each) => each.role !== "order" && !periodLevel(each.name)),
);
const filtered = ref(props.brief.filters[0]?.dimension ?? "");
function filter(members: (string | null)[]): void {
  const others = props.brief.filters.filter((each) => each.dimension !== filtered.value);
  const own = { dimension: filtered.value, members, exclude: false };
  set({ filters: members.length ? [...others, own] : others });
}
const policy = computed(() => props.brief.as_of as Statement["as_of"]);
</script>

<template>
  <ElForm label-position="top" size="small" class="form" @submit.prevent>
    <ElFormItem label="Name in the list">
      <Field :value="brief.name" aria-label="Name" data-test="brief-name" @change="(name) => set({ name })" />
    </ElFormItem>
    <ElFormItem label="Title">
      <Field
        :value="brief.title"
        aria-label="Title"
        data-test="brief-title"
        @change="(title) => set({ title })"
      />
      <small>Filled in: {{ PLACEHOLDERS }}</small>
    </ElFormItem>
    <ElFormItem label="Lead (Markdown; empty: made by rules)">
      <Field
        :value="brief.lead"
        type="textarea"
        :autosize="{ minRows: 2, maxRows: 8 }"
        aria-label="Lead"
        data-test="brief-lead"
        @change="(lead) => set({ lead })"
      />
    </ElFormItem>
    <ElFormItem label="From">
      <Field
        :value="brief.masthead"
        aria-label="Masthead"
        data-test="brief-masthead"
        @change="(masthead) => set({ masthead })"
      />
    </ElFormItem>
    <ElFormItem label="Logo">
      <div class="line">
        <img v-if="brief.logo" :src="brief.logo" alt="The logo" />
        <ElUpload :show-file-list="false" accept="image/png,image/jpeg" :before-upload="takeLogo">
          <span class="el-button el-button--small">Choose a picture</span>
        </ElUpload>
        <ElButton v-if="brief.logo" link @click="set({ logo: '' })">Take it away</ElButton>
      </div>
      <small v-if="refused" class="adverse" role="alert">{{ refused }}</small>
    </ElFormItem>
    <ElFormItem label="Paper">
      <ElRadioGroup
        :model-value="brief.paper"
        aria-label="Paper"
        @change="(paper) => set({ paper: paper as Brief['paper'] })"
      >
        <ElRadioButton value="A4" label="A4" />
        <ElRadioButton value="Letter" label="Letter" data-test="paper-letter" />
      </ElRadioGroup>
    </ElFormItem>
    <ElFormItem label="As of">
      <div class="as-of">
        <AsOfChoice
          :as-of="asOf"
          :policy="policy"
          :settings="ledger.calendar"
          :tell="async () => ''"
          @pin="(day) => set({ as_of: { kind: 'pinned', day } })"
          @follow="(next) => set({ as_of: next })"
        />
      </div>
    </ElFormItem>
    <ElFormItem label="Only lines where">
      <ElSelect
        v-model="filtered"
        clearable
        placeholder="no filter"
        aria-label="Filter by"
        data-test="brief-filter"
      >
        <Option
          v-for="each in dimensions"
          :key="each.name"
          :value="each.name"
          :label="`${dimensionName(each.name)} is`"
        />
      </ElSelect>
      <MemberPicker
        v-if="filtered"
        :key="filtered"
        :dimension="filtered"
        :model-value="brief.filters.find((each) => each.dimension === filtered)?.members ?? []"
        @update:model-value="filter"
      />
    </ElFormItem>
    <ElFormItem label="Copies: one for each">
      <ElSelect
        :model-value="brief.copies"
        clearable
        placeholder="none: one brief for all"
        aria-label="Copies per"
        data-test="brief-copies"
        @change="(copies: string) => set({ copies: copies ?? '' })"
      >
        <Option
          v-for="each in dimensions"
          :key="each.name"
          :value="each.name"
          :label="dimensionName(each.name)"
        />
      </ElSelect>
    </ElFormItem>
  </ElForm>
</template>

<style scoped>
.form :deep(.el-form-item) {
  margin-bottom: 10px;
}
.line {
  display: flex;
  gap: 8px;
  align-items: center;
}
.line img {
  max-height: 32px;
  max-width: 90px;
}
.as-of {
  width: 100%;
}
small {
  color: var(--quiet);
  line-height: 1.3;
}
</style>
