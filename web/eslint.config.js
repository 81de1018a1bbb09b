import pluginVue from 'eslint-plugin-vue'
import { defineConfigWithVueTs, vueTsConfigs } from '@vue/eslint-config-typescript'

export default defineConfigWithVueTs(
  { ignores: ['src/api/schema.d.ts'] },
  pluginVue.configs['flat/recommended'],
  vueTsConfigs.recommended,
  {
    rules: {
      // Vuetify focuses such a field a moment after it is seen, and so takes the focus from whoever went on.
      'vue/no-restricted-static-attribute': ['error', 'autofocus'],
      // Stored text comes from guests: it is never markup.
      'vue/no-v-html': 'error',
      // Layout is prettier's; that no line is too wide is held here.
      ...Object.fromEntries(
        [
          'max-attributes-per-line',
          'singleline-html-element-content-newline',
          'multiline-html-element-content-newline',
          'html-self-closing',
          'html-indent',
          'html-closing-bracket-newline',
          'first-attribute-linebreak',
        ].map((name) => [`vue/${name}`, 'off']),
      ),
      'vue/max-len': ['error', { code: 120, template: 120, ignoreUrls: true }],
      'vue/multi-word-component-names': 'off',
    },
  },
)
